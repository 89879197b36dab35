package warden.core.azure.mend;

import warden.core.audit.AuditContext;
import warden.core.audit.Finding;
import warden.core.mend.Mender;
import warden.core.mend.Proposal;

/** Says what to change about findings in subscriptions of this provider. */
public final class AzureMender implements Mender {
    @Override
    public Proposal propose(AuditContext context, Finding finding) {
        return Proposal.byHand("its remedy is not made into calls yet", finding.remedy());
    }
}
