package warden.core.mend;

import warden.core.audit.AuditContext;
import warden.core.audit.Finding;

/** Says what to change about findings of one provider. */
@FunctionalInterface
public interface Mender {
    /** Returns what to do about a finding that is about its provider's cloud; nothing is proven yet. */
    Proposal propose(AuditContext context, Finding finding);
}
