package warden.core.checks.cdn;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.account.Account;
import warden.core.cdn.UnreadDistribution;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Finds origin access identities and controls that nothing uses. */
final class OriginIdentityUnused implements Check {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-unused",
            Area.CDN,
            Severity.LOW,
            "an identity or control that no distribution uses",
            "origin-identity, origin-control, distribution-list, distribution",
            "It may still be let in by a bucket policy, and hides which one counts.",
            "Delete it, after removing it from bucket policies.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            Set<String> used = new HashSet<>();
            account.distributions()
                    .forEach(distribution -> distribution.origins().forEach(origin -> {
                        origin.identity().ifPresent(id -> used.add("origin-access-identity/" + id));
                        origin.control().ifPresent(id -> used.add("origin-access-control/" + id));
                    }));
            List<Need> missing = undescribed(account);
            for (String aspect : List.of("origin-identity", "origin-control")) {
                for (String subject : account.survey().subjects(aspect)) {
                    account.survey().reading(aspect, subject).citation().ifPresent(at -> {
                        boolean exists = account.survey()
                                .reading(aspect, subject)
                                .found()
                                .isPresent();
                        if (exists) {
                            verdicts.add(judge(subject, used.contains(subject), missing, at));
                        }
                    });
                }
            }
        }
        return verdicts;
    }

    private static Verdict judge(String subject, boolean used, List<Need> missing, Citation at) {
        if (used) {
            return new Verdict.Clean(subject, Optional.empty());
        }
        if (!missing.isEmpty()) {
            return new Verdict.Unknown(subject, Optional.empty(), missing);
        }
        String kind = subject.startsWith("origin-access-control") ? "control" : "identity";
        String says = "No distribution uses the origin access " + kind + " "
                + subject.substring(subject.indexOf('/') + 1) + ".";
        return new Verdict.Flagged(Finding.of(CARD, subject, Optional.empty(), says, List.of(at)));
    }

    /** Returns what is missing to know every distribution of the account. */
    private static List<Need> undescribed(Account account) {
        List<Need> needs = new ArrayList<>(
                account.listedDistributionDomains().missing().stream().toList());
        UnreadDistribution.needs(account.unreadDistributions().stream()).stream()
                .filter(need -> !needs.contains(need))
                .forEach(needs::add);
        return needs;
    }
}
