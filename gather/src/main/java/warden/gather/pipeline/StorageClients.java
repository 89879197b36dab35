package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
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
     * @param cacheControl the header that the files get; absent for none
     */
    public static Operation upload(
            PipelineValue source,
            Target target,
            boolean many,
            boolean lists,
            boolean deletes,
            Optional<String> acl,
            Optional<String> cacheControl,
            List<Filter> filters) {
        return new Operation.Upload(
                source, target, many, lists, deletes, acl, cacheControl, filters, extracts(source, many));
    }

    /** Returns whether what is uploaded is taken apart at its place: not an archive that goes there as a file; absent for all else. */
    public static Optional<Boolean> extracts(PipelineValue source, boolean many) {
        return !many && Folders.isArchive(source.text()) ? Optional.of(false) : Optional.empty();
    }

    /** Returns the patterns of a call in their order, without the slash that stands for the folder itself. */
    public static List<Filter> filters(CommandLine command) {
        return filters(command, pattern -> pattern.startsWith("/") ? pattern.substring(1) : pattern);
    }

    /**
     * Returns the patterns of a call in their order.
     *
     * @param meant what a pattern means that is written so
     */
    public static List<Filter> filters(CommandLine command, UnaryOperator<String> meant) {
        List<Filter> filters = new ArrayList<>();
        command.order().forEach(option -> {
            if (option.getKey().equals("--exclude") || option.getKey().equals("--include")) {
                filters.add(new Filter(
                        option.getKey().equals("--include"),
                        Glob.parse(meant.apply(option.getValue().text()))));
            }
        });
        return filters;
    }

    /** Returns that a call is not understood. */
    public static Operation unclear() {
        return new Operation.NotUnderstood("what this call of a storage client does is not clear");
    }
}
