package warden.core.trim;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.pipeline.Needed;
import warden.core.site.Site;
import warden.core.survey.Need;

/** What one publishing credential needs, is granted, lacks and has too much of, and the rights that would do. */
public interface Trimming {
    /** Returns its identifier, or whose credential it is where no reading describes it. */
    String called();

    /** Returns its name, as people know it. */
    String name();

    /** Returns the sites that it publishes. */
    List<? extends Site> sites();

    /** Returns each action and resource that it needs once, with where that is known from. */
    List<Needed> needed();

    /** Returns the steps that may need more: then what is needed is a lower bound. */
    List<OpenStep> openSteps();

    /** Returns what is needed and refused today. */
    List<Needed> missing();

    /** Returns what could not be read of its rights: then what is granted is a lower bound. */
    List<Need> unread();

    /** Returns how many of the actions that the program knows are allowed today. */
    int grantedActions();

    /** Returns the services in which something is allowed today; {@code *} for all. */
    Set<String> services();

    /** Returns how many of the actions that the program knows are allowed and not needed. */
    int excessActions();

    /** Returns the services in which something is allowed and nothing needed. */
    Set<String> excessServices();

    /** Returns the most dangerous of what is allowed and not needed, worst first. */
    List<Worst> worst();

    /** True when no reading describes the credential, so that only what it needs is known. */
    boolean isUnsurveyed();

    /** Returns its rights today, a line each, as people read them. */
    List<String> today();

    /** Returns the proposed rights, a line each, as people read them. */
    List<String> proposed();

    /** Returns how many actions the proposal names. */
    int proposedActions();

    /** Returns how many services the proposal names. */
    int proposedServices();

    /** Returns the proposal as the provider takes it. */
    JsonPart proposal();

    /** Returns the proposal as the provider takes it, laid out as a file. */
    String proposalSpelled();

    /** Returns whom the credential should trust; absent where nothing is proposed. */
    Optional<Trust> proposedTrust();

    /** True when every request that is needed is allowed by the proposal. */
    boolean coversNeeded();

    /** True when every request that the proposal allows is needed. */
    boolean withinNeeded();

    /** Returns what something else refuses though the proposal allows it. */
    List<Needed> stillRefused();

    /** A dangerous permission beyond need. */
    record Worst(String action, String on, String why) {}

    /** A step that may need more, and why that is not known. */
    record OpenStep(String place, String command, String why) {}

    /**
     * Whom a credential should trust.
     *
     * @param isComplete false where something is left to fill in
     */
    record Trust(JsonPart json, String spelled, boolean isComplete) {}
}
