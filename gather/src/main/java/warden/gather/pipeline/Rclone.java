package warden.gather.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

/**
 * Understands calls of the generic client whose settings, which the file seldom tells, say which provider it works with. Source: rclone
 * documentation, "Usage", "Install with docker".
 */
public final class Rclone {
    /** The program's name. */
    public static final String PROGRAM = "rclone";

    static final Map<String, ContainerImage> IMAGES = Map.of(PROGRAM, new ContainerImage(PROGRAM, "/data"));

    private Rclone() {}

    /** Returns what a call does; its arguments are those after the program's name. */
    public static Operation read(List<PipelineValue> arguments) {
        CommandLine command = StorageClients.sorted(arguments);
        return StorageClients.isTrial(command) ? new Operation.Nothing() : read(command);
    }

    private static Operation read(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        Optional<Target> first = remote(rest, 1);
        Optional<Target> second = remote(rest, 2);
        return switch (operation) {
            case "sync", "copy", "copyto", "move" ->
                second.isPresent() && first.isEmpty()
                        ? StorageClients.upload(
                                rest.get(1),
                                second.get(),
                                !operation.equals("copyto"),
                                true,
                                operation.equals("sync"),
                                command.text("--s3-acl"),
                                Optional.empty(),
                                StorageClients.filters(command))
                        : first.<Operation>map(
                                        from -> new Operation.Fetch(from, second, true, operation.equals("move")))
                                .orElseGet(StorageClients::unclear);
            case "delete", "purge", "deletefile" ->
                first.<Operation>map(target -> new Operation.Remove(target, !operation.equals("deletefile")))
                        .orElseGet(StorageClients::unclear);
            case "config", "version", "lsd", "about", "check" -> new Operation.Nothing();
            default -> StorageClients.unclear();
        };
    }

    /** A place behind a configured remote: {@code NAME:BUCKET/PREFIX}. */
    private static Optional<Target> remote(List<PipelineValue> rest, int index) {
        if (index >= rest.size()) {
            return Optional.empty();
        }
        String text = rest.get(index).text();
        int colon = text.startsWith(":") ? text.indexOf(':', 1) : text.indexOf(':');
        return colon < 0
                ? Optional.empty()
                : Optional.of(Target.ofPath(new PipelineValue(
                        text.substring(colon + 1), rest.get(index).open())));
    }
}
