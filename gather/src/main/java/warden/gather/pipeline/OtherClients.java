package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.algebra.Glob;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Operation.Filter;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

/** Understands generic clients of storage. */
final class OtherClients {
    private static final Set<String> FLAGS = Set.of(
            "--delete",
            "--delete-removed",
            "--delete-after",
            "--no-delete-removed",
            "--acl-public",
            "--acl-private",
            "--guess-mime-type",
            "--no-mime-magic",
            "--no-preserve",
            "--cf-invalidate",
            "--recursive",
            "--remove",
            "--overwrite",
            "--delete-destination",
            "--force",
            "--quiet",
            "--no-progress",
            "--progress",
            "--verbose",
            "--checksum",
            "--size-only",
            "--fast-list",
            "--dry-run",
            "--only-show-errors",
            "--no-check-bucket",
            "--s3-no-check-bucket",
            "-r",
            "-v",
            "-vv",
            "-P",
            "-n",
            "-f",
            "-q");

    private OtherClients() {}

    /** Returns the word by which surveys name the provider whose stores a client reaches; empty where its settings say so. */
    static String provider(String program) {
        return program.equals("rclone") ? "" : "aws";
    }

    /** Returns what a call of a generic client does; absent when the program is none that is known. */
    static Optional<Operation> read(String program, List<PipelineValue> arguments) {
        CommandLine command = CommandLine.of(arguments, FLAGS);
        if (command.has("--dry-run") || command.has("-n")) {
            return Optional.of(new Operation.Nothing());
        }
        return switch (program) {
            case "rclone" -> Optional.of(rclone(command));
            case "s3cmd" -> Optional.of(s3cmd(command));
            case "mc", "mcli" -> Optional.of(minio(command));
            case "s5cmd" -> Optional.of(s5cmd(command));
            default -> Optional.empty();
        };
    }

    private static Operation rclone(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        Optional<Target> first = remote(rest, 1);
        Optional<Target> second = remote(rest, 2);
        return switch (operation) {
            case "sync", "copy", "copyto", "move" ->
                second.isPresent() && first.isEmpty()
                        ? upload(
                                rest.get(1),
                                second.get(),
                                !operation.equals("copyto"),
                                true,
                                operation.equals("sync"),
                                command.text("--s3-acl"),
                                filters(command))
                        : first.<Operation>map(
                                        from -> new Operation.Fetch(from, second, true, operation.equals("move")))
                                .orElseGet(OtherClients::unclear);
            case "delete", "purge", "deletefile" ->
                first.<Operation>map(target -> new Operation.Remove(target, !operation.equals("deletefile")))
                        .orElseGet(OtherClients::unclear);
            case "config", "version", "lsd", "about", "check" -> new Operation.Nothing();
            default -> unclear();
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
                        ? upload(
                                rest.get(1),
                                last.get(),
                                many,
                                operation.equals("sync"),
                                command.has("--delete-removed"),
                                command.has("--acl-public") ? Optional.of("public-read") : Optional.empty(),
                                filters(command))
                        : unclear();
            case "del", "rm" ->
                last.<Operation>map(target -> new Operation.Remove(target, many))
                        .orElseGet(OtherClients::unclear);
            case "ls", "la", "info", "du" -> new Operation.Nothing();
            default -> unclear();
        };
    }

    private static Operation minio(CommandLine command) {
        List<PipelineValue> rest = command.rest();
        String operation = rest.isEmpty() ? "" : rest.get(0).text();
        return switch (operation) {
            case "alias", "config", "ls" -> new Operation.Nothing();
            case "mirror", "cp" ->
                rest.size() < 3
                        ? unclear()
                        : upload(
                                rest.get(1),
                                behindAlias(rest.get(2)),
                                operation.equals("mirror") || command.has("--recursive") || command.has("-r"),
                                operation.equals("mirror"),
                                command.has("--remove"),
                                Optional.empty(),
                                filters(command));
            case "rm" ->
                rest.size() < 2
                        ? unclear()
                        : new Operation.Remove(behindAlias(rest.get(1)), command.has("--recursive"));
            default -> unclear();
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
            return upload(
                    rest.get(1),
                    Target.parse(rest.get(2)),
                    true,
                    operation.equals("sync"),
                    command.has("--delete"),
                    command.text("--acl"),
                    filters(command));
        }
        boolean remove = operation.equals("rm") && rest.size() > 1 && Target.isTarget(rest.get(1));
        return remove
                ? new Operation.Remove(
                        Target.parse(rest.get(1)), rest.get(1).text().contains("*"))
                : unclear();
    }

    private static Operation upload(
            PipelineValue source,
            Target target,
            boolean many,
            boolean lists,
            boolean deletes,
            Optional<String> acl,
            List<Filter> filters) {
        boolean archive = !many && ProviderCommands.isArchive(source.text());
        return new Operation.Upload(
                source,
                target,
                many,
                lists,
                deletes,
                acl,
                Optional.empty(),
                filters,
                archive ? Optional.of(false) : Optional.empty());
    }

    private static List<Filter> filters(CommandLine command) {
        List<Filter> filters = new ArrayList<>();
        command.order().forEach(option -> {
            if (option.getKey().equals("--exclude") || option.getKey().equals("--include")) {
                String pattern = option.getValue().text();
                filters.add(new Filter(
                        option.getKey().equals("--include"),
                        Glob.parse(pattern.startsWith("/") ? pattern.substring(1) : pattern)));
            }
        });
        return filters;
    }

    private static Operation unclear() {
        return new Operation.NotUnderstood("what this call of a storage client does is not clear");
    }
}
