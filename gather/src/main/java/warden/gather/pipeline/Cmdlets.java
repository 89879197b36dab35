package warden.gather.pipeline;

import java.util.Optional;
import warden.gather.pipeline.PowerShellReader.Statement;

/** What one provider's cmdlets do in one script. Its commands are told in the order in which they stand, so that what they assign is known. */
public interface Cmdlets {
    /** True for the name, in lower case, of a cmdlet of the provider, known or not. */
    boolean isOne(String name);

    /** True where a text may call one of the cmdlets: a condition is looked into only then. */
    boolean mayStandIn(String text);

    /** Notes what a command gives to a variable. */
    default void assigned(Statement statement) {}

    /**
     * Adds what a cmdlet does for which {@link #isOne} is true.
     *
     * @param before the command before it, whose result may be handed to it; absent for the first
     */
    void call(Statement statement, Optional<Statement> before);
}
