package warden.gather.azure.pipeline;

import java.util.List;
import java.util.Optional;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.Rclone;
import warden.gather.pipeline.ToolCall;

/**
 * A generic client that is told on the command line, or by variables, to work with the second provider's blobs. Source: rclone documentation,
 * "Microsoft Azure Blob Storage".
 */
final class AzureRclone {
    private AzureRclone() {}

    static boolean isOne(List<PipelineValue> arguments, JobContext here) {
        return arguments.stream()
                        .anyMatch(word -> word.text().startsWith(":azureblob")
                                || word.text().startsWith("--azureblob-"))
                || option(arguments, here, "account").isPresent()
                || option(arguments, here, "sas-url").isPresent();
    }

    /** Adds what the call does, in the account that its options name. */
    static void read(List<PipelineValue> arguments, ToolCall call) {
        JobContext here = call.here();
        Optional<PipelineValue> url = option(arguments, here, "sas-url");
        Optional<PipelineValue> key = option(arguments, here, "key");
        Optional<AzureStorageUrl> address = url.filter(AzureStorageUrl::isOne).map(AzureStorageUrl::parse);
        PipelineValue account = option(arguments, here, "account")
                .or(() -> address.map(each -> each.target().account()))
                .orElse(PipelineValue.open("?", "the storage account"));
        Optional<CredentialUse> use = url.map(value -> AzureAuthentication.held(
                        address.flatMap(AzureStorageUrl::signature).orElse(Kind.SIGNED), value, call.line()))
                .or(() -> key.map(value -> AzureAuthentication.held(Kind.STORE_KEY, value, call.line())))
                .or(() -> option(arguments, here, "client-id")
                        .map(id -> AzureAuthentication.principal(
                                Kind.PRINCIPAL_BY_PASSWORD, Optional.of(id), call.line())));
        call.add(in(account, Rclone.read(arguments)), use, AzureAuthentication.PROVIDER);
    }

    private static Operation in(PipelineValue account, Operation operation) {
        if (operation instanceof Operation.Upload upload) {
            return upload.to(in(account, upload.target()));
        }
        if (operation instanceof Operation.Remove removal) {
            return new Operation.Remove(in(account, removal.target()), removal.many());
        }
        return operation instanceof Operation.Fetch fetch
                ? new Operation.Fetch(
                        in(account, fetch.from()), fetch.to().map(to -> in(account, to)), fetch.many(), fetch.moves())
                : operation;
    }

    private static Target in(PipelineValue account, Target target) {
        return new Target(account, target.bucket(), target.prefix());
    }

    private static Optional<PipelineValue> option(List<PipelineValue> arguments, JobContext here, String name) {
        String option = "--azureblob-" + name;
        for (int i = 0; i < arguments.size(); i++) {
            PipelineValue word = arguments.get(i);
            if (word.text().startsWith(option + "=")) {
                return Optional.of(new PipelineValue(word.text().substring(option.length() + 1), word.open()));
            }
            if (word.text().equals(option) && i + 1 < arguments.size()) {
                return Optional.of(arguments.get(i + 1));
            }
        }
        return AzureAuthentication.variable(
                here,
                "RCLONE_AZUREBLOB_" + name.toUpperCase(java.util.Locale.ROOT).replace('-', '_'));
    }
}
