package warden.core.rehearse;

import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import warden.core.drift.Drift;
import warden.core.pipeline.Needed;

/**
 * How a rehearsed deployment went.
 *
 * @param as the ARN of who was rehearsed
 * @param ended the command's exit code; empty for one that was ended by a signal
 * @param isLenient true where nothing was refused, only recorded
 * @param uses what the calls add up to
 * @param proposal statements that would allow what was refused, as a policy in JSON; empty where nothing was
 * @param unused the actions that the credential is allowed and did not use
 * @param worst the most dangerous of them, as sentences
 * @param changes what changed in storage
 * @param notable the changes that matter most
 * @param visits what visitors get otherwise than before
 * @param unread what of the visits is not known
 * @param invalidated what edges were told to forget, each path behind the edge's name
 * @param stale changed objects that edges may go on serving as they were, as paths behind the edge's name
 * @param refusedHosts hosts that the proxy refused, each with how often
 * @param late how many calls came after the command had ended
 */
public record Rehearsal(
        String as,
        List<String> command,
        OptionalInt ended,
        boolean isLenient,
        RehearsedUses uses,
        String proposal,
        List<String> unused,
        List<String> worst,
        StorageChanges changes,
        List<StorageChanges.Notable> notable,
        List<Drift.VisitEntry> visits,
        List<String> unread,
        List<String> invalidated,
        List<String> stale,
        Map<String, Integer> refusedHosts,
        long late) {
    public Rehearsal {
        command = List.copyOf(command);
        unused = List.copyOf(unused);
        worst = List.copyOf(worst);
        notable = List.copyOf(notable);
        visits = List.copyOf(visits);
        unread = List.copyOf(unread);
        invalidated = List.copyOf(invalidated);
        stale = List.copyOf(stale);
    }

    /** True where everything that was asked is simulated, so that what came of it says what would come of it. */
    public boolean isProof() {
        return uses.notSimulated().isEmpty();
    }

    /** True where a permission was refused, or would have been. */
    public boolean isRefused() {
        return uses.refusedCalls() > 0;
    }

    /** True where the deployment would work. */
    public boolean works() {
        return isProof() && !isRefused() && ended.isPresent() && ended.getAsInt() == 0;
    }

    /** Returns what was needed. */
    public List<Needed> needed() {
        return uses.needed();
    }
}
