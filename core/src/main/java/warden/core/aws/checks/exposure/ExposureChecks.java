package warden.core.aws.checks.exposure;

import java.util.List;
import warden.core.audit.Check;

/** The checks of the area "exposure". */
public final class ExposureChecks {
    private ExposureChecks() {}

    /** Returns them in the order of the catalogue. */
    public static List<Check> all() {
        return List.of(
                new AnyoneCanChangeRules(),
                new AnyoneCanWrite(),
                new AnyoneCanDelete(),
                new AnyoneCanList(),
                new OpenAroundCdn(),
                new OpenEndpointAroundCdn(),
                new OpenWithoutSite(),
                new OldVersionsReadable(),
                new ObjectAclOpen(),
                new OutsideAccountAccess(),
                new ServiceWithoutSource(),
                new GuardOff(),
                new AccountGuardOff(),
                new GuardContradictsGrant(),
                new OwnershipLetsAcls(),
                new PlainHttpToStorage(),
                new CorsTooWide());
    }
}
