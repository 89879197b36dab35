package warden.core.audit;

import java.util.List;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;

/**
 * A check's question, ready to be put to one thing after the other.
 *
 * @param subjects the things that were read; checks that ask of the same things share the list
 * @param of gives the verdicts on the thing at a place of the list
 * @param unread gives the open verdicts for the things that were not read
 * @param told leaves out of all verdicts those that tell a fact again
 */
public record Asking(
        List<? extends Judged> subjects,
        IntFunction<List<Verdict>> of,
        Supplier<List<Verdict>> unread,
        UnaryOperator<List<Verdict>> told) {}
