package warden.core.aws;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Check;
import warden.core.aws.account.Account;
import warden.core.aws.checks.AwsChecks;
import warden.core.aws.mend.AwsMender;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.survey.AwsAspects;
import warden.core.cloud.Cloud;
import warden.core.mend.Mender;
import warden.core.names.Zone;
import warden.core.provider.Provider;
import warden.core.site.SiteFile;
import warden.core.survey.Aspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** Amazon Web Services. */
public final class Aws implements Provider {
    @Override
    public String name() {
        return AwsAspects.PROVIDER;
    }

    @Override
    public Aspects aspects() {
        return AwsAspects.TABLE;
    }

    @Override
    public Account account(Survey survey) {
        return new Account(survey);
    }

    @Override
    public List<HostedZone> zones(SurveyedAccount account) {
        return ((Account) account).names().zones();
    }

    @Override
    public Cloud open(
            List<? extends SurveyedAccount> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at) {
        List<Account> own = accounts.stream().map(Account.class::cast).toList();
        return new AwsAdapter(new AwsCloud(own, otherZones, file, at));
    }

    @Override
    public List<Check> checks() {
        return AwsChecks.all();
    }

    @Override
    public Mender mender() {
        return new AwsMender();
    }
}
