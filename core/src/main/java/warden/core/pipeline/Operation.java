package warden.core.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.algebra.Glob;

/** What one step of a pipeline does, as far as publishing and its permissions are concerned. */
public sealed interface Operation {
    /**
     * Puts files into storage.
     *
     * @param source the file or folder, as the step names it
     * @param many true for a folder with all that is in it
     * @param lists true when the command lists what is there to compare
     * @param deletes true when objects are removed that the source does not have
     * @param acl the canned ACL that is set with the objects; absent when none is
     * @param cacheControl the Cache-Control that is stored with them; absent when none is
     * @param filters which files are left out or taken after all, in order; a later one goes before an earlier one
     * @param extracts false when an archive is stored as it is; absent when the source is no archive
     * @param carries what each request carries beside the object, by condition key: how it is to be encrypted, say
     */
    record Upload(
            PipelineValue source,
            Target target,
            boolean many,
            boolean lists,
            boolean deletes,
            Optional<String> acl,
            Optional<String> cacheControl,
            List<Filter> filters,
            Optional<Boolean> extracts,
            Map<String, String> carries)
            implements Operation {
        public Upload {
            filters = List.copyOf(filters);
            carries = Map.copyOf(carries);
        }

        /** Makes an upload whose requests carry nothing more. */
        public Upload(
                PipelineValue source,
                Target target,
                boolean many,
                boolean lists,
                boolean deletes,
                Optional<String> acl,
                Optional<String> cacheControl,
                List<Filter> filters,
                Optional<Boolean> extracts) {
            this(source, target, many, lists, deletes, acl, cacheControl, filters, extracts, Map.of());
        }

        /** Returns the same upload from elsewhere. */
        public Upload from(PipelineValue other) {
            return new Upload(other, target, many, lists, deletes, acl, cacheControl, filters, extracts, carries);
        }

        /** Returns the same upload to elsewhere. */
        public Upload to(Target other) {
            return new Upload(source, other, many, lists, deletes, acl, cacheControl, filters, extracts, carries);
        }

        /** True when a file of the source, by its path within it, is put into storage. */
        public boolean takes(String path) {
            boolean taken = true;
            for (Filter filter : filters) {
                taken = filter.pattern().matches(path) ? filter.takes() : taken;
            }
            return taken;
        }
    }

    /**
     * A choice of files.
     *
     * @param takes true to take what matches, false to leave it out
     * @param pattern over paths within the source; its wildcards cross slashes
     */
    record Filter(boolean takes, Glob pattern) {}

    /** Copies inside storage, or fetches from it when {@code to} is absent; {@code moves} removes the source. */
    record Fetch(Target from, Optional<Target> to, boolean many, boolean moves) implements Operation {}

    /** Removes objects. */
    record Remove(Target target, boolean many) implements Operation {}

    /**
     * Makes the edges forget what they keep.
     *
     * @param distribution a distribution's id, or the end of an endpoint's resource id: {@code profiles/NAME/afdEndpoints/NAME}
     * @param waits true when it goes on only once they have
     */
    record Invalidate(PipelineValue distribution, boolean waits) implements Operation {}

    /**
     * Makes one call of a provider's interface that is none of the above.
     *
     * @param action the action that the call takes, such as {@code s3:PutObjectAcl}
     * @param on the ARN that it is about; {@code distribution/ID} for one of the account's distributions; {@code storageAccounts/NAME} for a
     *     storage account, with {@code /CONTAINER} for one of its containers; {@code subscription} for the whole of it; {@code *} when about none
     * @param acl the canned ACL that it sets; absent when none
     */
    record Call(String action, PipelineValue on, Optional<String> acl) implements Operation {}

    /** Builds the site, or its tools. */
    record Build() implements Operation {}

    /** Tests what was built. */
    record Test() implements Operation {}

    /**
     * Fetches the source.
     *
     * @param ref what is checked out, as the step spells it; empty for what the trigger names
     */
    record Checkout(String ref) implements Operation {}

    /**
     * Runs a step that others publish.
     *
     * @param version what it is pinned to; empty when nothing is said
     * @param receivesSecrets true when its own inputs or variables hold secrets, beside those of its job
     */
    record Reusable(String name, String version, boolean receivesSecrets) implements Operation {
        /** True when the version is a whole commit hash or image digest, which nobody can move. */
        public boolean isPinned() {
            return version.matches("[0-9a-f]{40}") || version.matches("(sha256:)?[0-9a-f]{64}");
        }
    }

    /** Keeps deployment state in a bucket. */
    record KeepState(Target target) implements Operation {}

    /** Does nothing that matters here. */
    record Nothing() implements Operation {}

    /** Cannot be understood; what it takes is not known. */
    record NotUnderstood(String why) implements Operation {}
}
