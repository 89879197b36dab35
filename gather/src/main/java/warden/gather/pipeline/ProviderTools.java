package warden.gather.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.survey.Survey;

/**
 * What one provider's tools do in pipelines: its programs and their containers, its cmdlets, the steps published for workflows and for build
 * servers that work with it, and the forms of pipelines that are its own. What none of the providers takes for its own is read as any
 * script's, or is not understood.
 */
public interface ProviderTools {
    /** Returns the programs that a call may be handed to {@link #command} for, by their names without a folder. */
    Set<String> programs();

    /**
     * Adds what a call of one of the programs does.
     *
     * @param arguments those after the program's name
     * @return false where it is no call of this provider's; nothing is added then
     */
    boolean command(String program, List<PipelineValue> arguments, ToolCall call);

    /** True for the address of one of the provider's stores, or of its own interface. */
    default boolean isAddress(PipelineValue word) {
        return false;
    }

    /** Returns the images that hold one of the programs and run it, by their last name. */
    default Map<String, ContainerImage> images() {
        return Map.of();
    }

    /** Returns the credential that the clients take from variables of the environment; absent where these say none. */
    default Optional<CredentialUse> credential(Scope variables) {
        return Optional.empty();
    }

    /**
     * Adds that infrastructure code keeps its state with the provider.
     *
     * @param backend what the call says of the place where it is kept, by name
     * @return false where it is kept elsewhere, or the call does not tell; nothing is added then
     */
    default boolean keepsState(Map<String, PipelineValue> backend, ToolCall call) {
        return false;
    }

    /** Returns what understands the provider's cmdlets in one PowerShell script; absent where none are known. */
    default Optional<Cmdlets> cmdlets(PowerShellWords words, JobContext job) {
        return Optional.empty();
    }

    /**
     * Adds what a step does that others publish for workflows.
     *
     * @return false where it is none of this provider's; nothing is added then
     */
    default boolean workflowStep(WorkflowStep step) {
        return false;
    }

    /**
     * Adds what a step of a build server's plug-in does, and notes as whom the steps in its block work.
     *
     * @return false where it is none of this provider's; nothing is added then
     */
    default boolean serverStep(ServerStep step) {
        return false;
    }

    /** Reads a pipeline of a form that is the provider's own; absent for other forms. */
    default Optional<Pipeline> pipeline(Yaml root, PipelineText text, JobContext begin) {
        return Optional.empty();
    }

    /**
     * Returns the pipelines that a survey holds as the provider's own services tell them; not the texts of files, which are read as such.
     *
     * @param variables what variables stand for that the pipelines do not set
     */
    default List<Pipeline> surveyed(Survey survey, PipelineVariables variables) {
        return List.of();
    }
}
