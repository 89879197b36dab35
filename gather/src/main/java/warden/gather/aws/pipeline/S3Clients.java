package warden.gather.aws.pipeline;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.CommandLine;
import warden.gather.pipeline.StorageClients;

/**
 * Understands calls of generic clients that speak the first provider's protocol for storage. Source: the manual of each, {@code s3cmd},
 * {@code s5cmd} and MinIO's {@code mc}.
 */
final class S3Clients {
    static final Set<String> PROGRAMS = Set.of("s3cmd", "s5cmd", "mc", "mcli");

    private S3Clients() {}

    /** Returns what a call of one of the programs does; its arguments are those after the program's name. */
    static Operation read(String program, List<PipelineValue> arguments) {
        CommandLine command = StorageClients.sorted(arguments);
        if (StorageClients.isTrial(command)) {
            return new Operation.Nothing();
        }
        return switch (program) {
            case "s3cmd" -> s3cmd(command);
            case "s5cmd" -> s5cmd(command);
            default -> minio(command);
        };
    }

    private static Operation s3cmd(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        Optional<Target> last = rest.size() > 1 && Target.isTarget(rest.get(rest.size() - 1))
                ? Optional.of(Target.parse(rest.get(rest.size() - 1)))
                : Optional.empty();
        boolean many = operation.equals("sync") || command.has("--recursive") || command.has("-r");
        return switch (operation) {
            case "put", "sync" ->
                last.isPresent() && rest.size() > 2 && !Target.isTarget(rest.get(1))
                        ? StorageClients.upload(
                                rest.get(1),
                                last.get(),
                                many,
                                operation.equals("sync"),
                                command.has("--delete-removed"),
                                command.has("--acl-public") ? Optional.of("public-read") : Optional.empty(),
                                Optional.empty(),
                                StorageClients.filters(command))
                        : StorageClients.unclear();
            case "del", "rm" ->
                last.<Operation>map(target -> new Operation.Remove(target, many))
                        .orElseGet(StorageClients::unclear);
            case "ls", "la", "info", "du" -> new Operation.Nothing();
            default -> StorageClients.unclear();
        };
    }

    private static Operation minio(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        return switch (operation) {
            case "alias", "config", "ls" -> new Operation.Nothing();
            case "mirror", "cp" ->
                rest.size() < 3
                        ? StorageClients.unclear()
                        : StorageClients.upload(
                                rest.get(1),
                                behindAlias(rest.get(2)),
                                operation.equals("mirror") || command.has("--recursive") || command.has("-r"),
                                operation.equals("mirror"),
                                command.has("--remove"),
                                Optional.empty(),
                                Optional.empty(),
                                StorageClients.filters(command));
            case "rm" ->
                rest.size() < 2
                        ? StorageClients.unclear()
                        : new Operation.Remove(behindAlias(rest.get(1)), command.has("--recursive"));
            default -> StorageClients.unclear();
        };
    }

    private static Target behindAlias(PipelineValue word) {
        int slash = word.text().indexOf('/');
        return Target.ofPath(new PipelineValue(word.text().substring(slash + 1), word.open()));
    }

    private static Operation s5cmd(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        boolean upload = rest.size() > 2 && !Target.isTarget(rest.get(1)) && Target.isTarget(rest.get(2));
        if (upload && (operation.equals("cp") || operation.equals("sync"))) {
            return StorageClients.upload(
                    rest.get(1),
                    Target.parse(rest.get(2)),
                    true,
                    operation.equals("sync"),
                    command.has("--delete"),
                    command.text("--acl"),
                    Optional.empty(),
                    StorageClients.filters(command));
        }
        boolean remove = operation.equals("rm") && rest.size() > 1 && Target.isTarget(rest.get(1));
        return remove
                ? new Operation.Remove(
                        Target.parse(rest.get(1)), rest.get(1).text().contains("*"))
                : StorageClients.unclear();
    }
}
