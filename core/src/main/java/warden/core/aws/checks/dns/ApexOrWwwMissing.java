package warden.core.aws.checks.dns;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.ZoneCheck;
import warden.core.aws.site.BucketSite;
import warden.core.checks.DnsCards;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.survey.Need;

/** Finds domains of which only one of apex and www works. */
final class ApexOrWwwMissing implements ZoneCheck {
    private static final CheckCard CARD = DnsCards.APEX_OR_WWW_MISSING;

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        Set<String> seen = new HashSet<>();
        return ZoneCheck.super.subjects(context).stream()
                .filter(subject -> seen.add(subject.name()))
                .toList();
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        String apex = subject.name().isEmpty() ? subject.zone().id() : subject.name();
        // Without its name, or its records, it is not known which of the two a zone serves.
        Optional<Need> unread = subject.name().isEmpty()
                ? subject.zone().settings().missing()
                : subject.zone().records().missing();
        return unread.<List<Verdict>>map(need -> List.of(new Verdict.Unknown(apex, subject.site(), List.of(need))))
                .orElseGet(() -> judge(subject.context(), apex).stream().toList());
    }

    private static Optional<Verdict> judge(AwsContext context, String apex) {
        HostDirectory hosts = context.cloud().hosts();
        String www = "www." + apex;
        boolean apexServes = !hosts.records(apex).isEmpty();
        boolean wwwServes = !hosts.records(www).isEmpty();
        Optional<BucketSite> site = context.cloud().siteOf(apexServes ? apex : www);
        if (site.isEmpty() || !(apexServes || wwwServes)) {
            return Optional.empty();
        }
        String missing = apexServes ? www : apex;
        if (apexServes && wwwServes) {
            return Optional.of(new Verdict.Clean(apex, site.map(BucketSite::name)));
        }
        Optional<Need> need = HostVerdicts.unreadZone(context, missing);
        if (need.isPresent()) {
            return Optional.of(new Verdict.Unknown(missing, site.map(BucketSite::name), List.of(need.get())));
        }
        boolean isItsHost = site.get().hosts().contains(missing);
        String says = (apexServes ? apex : www) + " serves the site, and " + missing + " does not exist.";
        return isItsHost
                ? Optional.empty()
                : Optional.of(new Verdict.Flagged(Finding.of(
                        CARD,
                        missing,
                        site.map(BucketSite::name),
                        says,
                        hosts.records(apexServes ? apex : www).stream()
                                .map(HostRecord::at)
                                .toList())));
    }
}
