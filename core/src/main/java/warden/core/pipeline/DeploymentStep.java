package warden.core.pipeline;

import java.util.Optional;

/**
 * One step of a pipeline.
 *
 * @param job the job or stage that it belongs to; empty where there are none
 * @param line where it begins, counted from 1
 * @param command the step as the file spells it, shortened, its secrets masked
 * @param credential what it works with; absent when the file does not tell
 * @param provider the word by which surveys name the provider whose tools it works with; empty for tools that work with any
 */
public record DeploymentStep(
        Operation operation,
        String job,
        int line,
        String command,
        Optional<CredentialUse> credential,
        String provider) {
    /** True when the step changes, or may change, what visitors get. */
    public boolean publishes() {
        return operation instanceof Operation.Upload || operation instanceof Operation.Remove;
    }

    /** True when the step deletes, or may delete, more than the one object that it names. */
    public boolean deletesMany() {
        return (operation instanceof Operation.Upload upload && upload.deletes())
                || (operation instanceof Operation.Remove removal && removal.many());
    }

    /** True for an upload whose files are stored so that no cache shows them once they are old. */
    public boolean uploadsFresh() {
        return operation instanceof Operation.Upload upload
                && upload.cacheControl()
                        .filter(text -> text.matches(".*(no-cache|no-store|max-age=0).*"))
                        .isPresent();
    }

    /** True unless the step works with the tools of another provider than this. */
    public boolean mayBeOf(String word) {
        return provider.isEmpty() || provider.equals(word);
    }

    /** Returns where it works in storage; absent for steps that do not. */
    public Optional<Target> target() {
        if (operation instanceof Operation.Upload upload) {
            return Optional.of(upload.target());
        }
        return operation instanceof Operation.Remove removal ? Optional.of(removal.target()) : Optional.empty();
    }

    /** Returns where it works in storage, or keeps its state. */
    public Optional<Target> place() {
        return operation instanceof Operation.KeepState state ? Optional.of(state.target()) : target();
    }
}
