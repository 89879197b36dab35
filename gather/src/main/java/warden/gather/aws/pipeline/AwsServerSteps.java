package warden.gather.aws.pipeline;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.ServerStep;
import warden.gather.pipeline.StorageClients;

/**
 * Understands the steps of a build server's plug-ins for the first provider. Source: Jenkins, "Pipeline: AWS Steps" and "AWS Credentials",
 * their documentation of steps.
 */
final class AwsServerSteps {
    private AwsServerSteps() {}

    /** Adds what a step does, and notes as whom the steps in its block work; false where it is none of these. */
    static boolean read(ServerStep step) {
        switch (step.name()) {
            case "withAWS" -> work(step);
            case "withCredentials" -> {
                return bind(step);
            }
            case "s3Upload" -> step.add(upload(step));
            case "s3Delete" ->
                step.add(new Operation.Remove(new Target(step.value("bucket"), step.value("path")), true));
            case "cfInvalidate" -> step.add(new Operation.Invalidate(step.value("distribution"), false));
            default -> {
                return false;
            }
        }
        return true;
    }

    private static void work(ServerStep step) {
        Optional<PipelineValue> region = step.find("region");
        Optional<PipelineValue> role = step.find("role");
        Optional<PipelineValue> keys = step.find("credentials");
        if (role.isPresent()) {
            step.inside().use(new CredentialUse(Kind.ROLE, role.get(), region, step.line()));
        } else if (keys.isPresent()) {
            String name = keys.get().text();
            step.inside().use(new CredentialUse(Kind.ACCESS_KEY, PipelineValue.open(name, name), region, step.line()));
        }
    }

    private static boolean bind(ServerStep step) {
        String bindings = step.bindings();
        boolean isOne = bindings.contains("AmazonWebServicesCredentialsBinding")
                || bindings.contains("AWS_ACCESS_KEY_ID")
                || bindings.contains("aws(");
        if (isOne) {
            step.inside()
                    .use(new CredentialUse(
                            Kind.ACCESS_KEY,
                            PipelineValue.open("a credential of the server", "credentials"),
                            Optional.empty(),
                            step.line()));
        }
        return isOne;
    }

    private static Operation upload(ServerStep step) {
        PipelineValue file = step.value("file");
        PipelineValue folder = step.value("workingDir");
        PipelineValue pattern = step.value("includePathPattern");
        boolean many = !pattern.text().isEmpty()
                || file.text().endsWith("/")
                || !file.text().matches(".*\\.[A-Za-z0-9]+");
        PipelineValue acl = step.value("acl");
        PipelineValue cache = step.value("cacheControl");
        return new Operation.Upload(
                !folder.text().isEmpty() ? folder : file.text().isEmpty() ? PipelineValue.of(".") : file,
                new Target(step.value("bucket"), step.value("path")),
                many,
                false,
                false,
                acl.text().isEmpty()
                        ? Optional.empty()
                        : Optional.of(
                                acl.text().replaceAll("([a-z])([A-Z])", "$1-$2").toLowerCase(Locale.ROOT)),
                cache.text().isEmpty() ? Optional.empty() : Optional.of(cache.text()),
                List.of(),
                StorageClients.extracts(file, many));
    }
}
