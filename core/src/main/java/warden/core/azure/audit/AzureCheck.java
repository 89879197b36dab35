package warden.core.azure.audit;

import java.util.List;
import warden.core.audit.AuditContext;
import warden.core.audit.EachCheck;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;

/**
 * A check that asks its question of each thing of one kind in this provider's subscriptions.
 *
 * @param <S> the kind of things, each with its surroundings
 */
public interface AzureCheck<S extends Judged> extends EachCheck<S> {
    /** Returns the things that were read: for the same context the same list, where other checks ask of them too. */
    List<S> subjects(AzureContext context);

    /** Returns open verdicts for the things that exist, or may, and were not read. */
    List<Verdict> unread(AzureContext context);

    @Override
    default List<S> subjects(AuditContext context) {
        return AzureContext.in(context).map(this::subjects).orElse(List.of());
    }

    @Override
    default List<Verdict> unread(AuditContext context) {
        return AzureContext.in(context).map(this::unread).orElse(List.of());
    }
}
