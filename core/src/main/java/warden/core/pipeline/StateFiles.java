package warden.core.pipeline;

import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/**
 * The files in which deployment tools keep what they made, secrets and all.
 *
 * <p>Source: the language's documentation, "State: backends" ({@code terraform.tfstate}, {@code .terraform}); the layout of self-managed
 * backends ({@code .pulumi/stacks}).
 */
public final class StateFiles {
    private static final Predicate<String> NAMES = Pattern.compile(
                    "(?i)(.*/)?[^/]*\\.tfstate(\\.backup)?|(.*/)?\\.(terraform|pulumi)/.*|(.*/)?pulumi/stacks/.*\\.json")
            .asMatchPredicate();

    private StateFiles() {}

    /** True for the name of an object that is such a file. */
    public static boolean isOne(String name) {
        return NAMES.test(name);
    }

    /** Returns where a step keeps its state, or uploads a file of it; absent for other steps. */
    public static Optional<Target> kept(DeploymentStep step) {
        boolean uploads = step.operation() instanceof Operation.Upload upload
                && isOne(upload.source().text());
        return step.operation() instanceof Operation.KeepState || uploads ? step.place() : Optional.empty();
    }
}
