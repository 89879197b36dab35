package warden.core.pipeline;

import java.util.Optional;

/**
 * One step of a pipeline.
 *
 * @param job the job or stage that it belongs to; empty where there are none
 * @param line where it begins, counted from 1
 * @param command the step as the file spells it, shortened, its secrets masked
 * @param credential what it works with; absent when the file does not tell
 */
public record DeploymentStep(
        Operation operation, String job, int line, String command, Optional<CredentialUse> credential) {
    /** True when the step changes, or may change, what visitors get. */
    public boolean publishes() {
        return operation instanceof Operation.Upload || operation instanceof Operation.Remove;
    }
}
