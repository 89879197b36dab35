package warden.core.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.names.Zone;
import warden.core.site.HostDirectory.Lead;
import warden.core.site.Site;
import warden.core.survey.Need;

/** A check that asks its question of every host that has an address record. */
public interface HostCheck extends EachCheck<HostCheck.Subject> {
    /** One host, and where its records lead. */
    record Subject(Setup setup, String host) implements Judged {
        public List<Lead> leads() {
            return setup.estate().hosts().leads(host);
        }

        /** Returns the name of the site that has the host. */
        public Optional<String> site() {
            return setup.estate().siteOf(host).map(Site::name);
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
    default List<Subject> subjects(Setup setup) {
        return setup.subjects(HostCheck.class, () -> list(setup));
    }

    private static List<Subject> list(Setup setup) {
        return setup.estate().hosts().hosts().stream()
                .map(host -> new Subject(setup, host))
                .toList();
    }

    /** Hosts that a refused or shortened listing would have named are open questions. */
    @Override
    default List<Verdict> unread(Setup setup) {
        List<Verdict> open = new ArrayList<>(ZoneCheck.unreadLists(setup));
        for (Account account : setup.estate().accounts()) {
            for (Zone zone : account.zones()) {
                Optional<Need> need = zone.isPrivate() ? Optional.empty() : zone.unlisted();
                need.ifPresent(missing -> open.add(new Verdict.Unknown(
                        zone.id(),
                        zone.name().flatMap(setup.estate()::siteBelow).map(Site::name),
                        List.of(missing))));
            }
        }
        return open;
    }
}
