package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.BucketSite;
import warden.core.names.Lead;
import warden.core.survey.Need;

/** A check that asks its question of every host that has an address record. */
public interface HostCheck extends AwsCheck<HostCheck.Subject> {
    /** One host, and where its records lead. */
    record Subject(AwsContext context, String host) implements Judged {
        public List<Lead> leads() {
            return context.cloud().hosts().leads(host);
        }

        /** Returns the name of the site that has the host. */
        public Optional<String> site() {
            return context.cloud().siteOf(host).map(BucketSite::name);
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(host, site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(host, site(), needs);
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(HostCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        return context.cloud().hosts().hosts().stream()
                .map(host -> new Subject(context, host))
                .toList();
    }

    /** Hosts that a refused or shortened listing would have named are open questions. */
    @Override
    default List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>(ZoneCheck.unreadLists(context));
        for (Account account : context.cloud().accounts()) {
            for (HostedZone zone : account.names().zones()) {
                Optional<Need> need = zone.isPrivate() ? Optional.empty() : zone.unlisted();
                need.ifPresent(missing -> open.add(new Verdict.Unknown(
                        zone.id(),
                        zone.name().flatMap(context.cloud()::siteBelow).map(BucketSite::name),
                        List.of(missing))));
            }
        }
        return open;
    }
}
