package warden.core.azure;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Check;
import warden.core.azure.checks.AzureChecks;
import warden.core.azure.mend.AzureMender;
import warden.core.azure.names.DnsZone;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.survey.AzureAspects;
import warden.core.cloud.Cloud;
import warden.core.mend.Mender;
import warden.core.names.Zone;
import warden.core.provider.Provider;
import warden.core.site.SiteFile;
import warden.core.survey.Aspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** Microsoft Azure. */
public final class Azure implements Provider {
    @Override
    public String name() {
        return AzureAspects.PROVIDER;
    }

    @Override
    public Aspects aspects() {
        return AzureAspects.TABLE;
    }

    @Override
    public AzureAccount account(Survey survey) {
        return new AzureAccount(survey);
    }

    @Override
    public List<DnsZone> zones(SurveyedAccount account) {
        return ((AzureAccount) account).zones();
    }

    @Override
    public Cloud open(
            List<? extends SurveyedAccount> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at) {
        List<AzureAccount> own = accounts.stream().map(AzureAccount.class::cast).toList();
        return new AzureAdapter(new AzureCloud(own, otherZones, file, at));
    }

    @Override
    public List<Check> checks() {
        return AzureChecks.all();
    }

    @Override
    public Mender mender() {
        return new AzureMender();
    }
}
