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

/** What generic clients of storage have in common: how their calls are written, and what an upload by them is. */
public final class StorageClients {
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

    private StorageClients() {}

    /** Sorts the arguments of a call. */
    public static CommandLine sorted(List<PipelineValue> arguments) {
        return CommandLine.of(arguments, FLAGS);
    }

    /** True for a call that only says what it would do. */
    public static boolean isTrial(CommandLine command) {
        return command.has("--dry-run") || command.has("-n");
    }

    /**
     * Returns an upload.
     *
     * @param many a folder with all that is in it, not one file
     * @param lists looks at what is there first
     * @param deletes removes there what is not in the source
     * @param acl the access list that is asked for by name; absent for none
     */
    public static Operation upload(
            PipelineValue source,
            Target target,
            boolean many,
            boolean lists,
            boolean deletes,
            Optional<String> acl,
            List<Filter> filters) {
        boolean archive = !many && Folders.isArchive(source.text());
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

    /** Returns the patterns of a call in their order. */
    public static List<Filter> filters(CommandLine command) {
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

    /** Returns that a call is not understood. */
    public static Operation unclear() {
        return new Operation.NotUnderstood("what this call of a storage client does is not clear");
    }
}
