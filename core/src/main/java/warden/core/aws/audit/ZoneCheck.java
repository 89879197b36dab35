package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Need;

/** A check that asks its question of every public zone. */
public interface ZoneCheck extends AwsCheck<ZoneCheck.Subject> {
    /**
     * One zone.
     *
     * @param name without a final dot; empty when no reading shows it
     */
    record Subject(AwsContext context, HostedZone zone, String name) implements Judged {
        /** Returns the name of the site of the domain, or of the first site below it. */
        public Optional<String> site() {
            return context.cloud()
                    .siteOf(name)
                    .or(() -> context.cloud().siteBelow(name))
                    .map(BucketSite::name);
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(zone.id(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(zone.id(), site(), needs);
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(ZoneCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (HostedZone zone : account.names().zones()) {
                if (!zone.isPrivate()) {
                    subjects.add(new Subject(context, zone, zone.name().orElse("")));
                }
            }
        }
        return subjects;
    }

    /** Zones that a refused or shortened list would have named are open questions. */
    @Override
    default List<Verdict> unread(AwsContext context) {
        return unreadLists(context);
    }

    /** Returns open verdicts for the accounts whose list of zones was not read to its end. */
    static List<Verdict> unreadLists(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.survey()
                    .unlisted("zone-list", account.number())
                    .filter(need -> account.survey().isWanted("zone-list", account.number()))
                    .ifPresent(
                            need -> open.add(new Verdict.Unknown(account.number(), Optional.empty(), List.of(need))));
        }
        return open;
    }
}
