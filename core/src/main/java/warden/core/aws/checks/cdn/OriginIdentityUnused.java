package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds origin access identities and controls that nothing uses. */
final class OriginIdentityUnused implements AwsCheck<OriginIdentityUnused.Subject> {
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

    /** An identity or control that exists. */
    record Subject(Account account, String id, Citation at) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(id, Optional.empty(), needs);
        }
    }

    private static final List<String> ASPECTS = List.of("origin-identity", "origin-control");

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String aspect : ASPECTS) {
                for (String id : account.survey().subjects(aspect)) {
                    if (account.survey().reading(aspect, id) instanceof Reading.Found<JsonPart> found) {
                        subjects.add(new Subject(account, id, found.at()));
                    }
                }
            }
        }
        return subjects;
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String aspect : ASPECTS) {
                for (String id : account.survey().subjects(aspect)) {
                    account.survey()
                            .missing(aspect, id)
                            .ifPresent(need -> open.add(new Verdict.Unknown(id, Optional.empty(), List.of(need))));
                }
            }
        }
        return open;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        boolean used = subject.account().edges().usedOriginSigners().contains(subject.id());
        return List.of(judge(subject.id(), used, undescribed(subject.account()), subject.at()));
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
                account.edges().listedDistributionDomains().missing().stream().toList());
        UnreadDistribution.needs(account.edges().unreadDistributions().stream()).stream()
                .filter(need -> !needs.contains(need))
                .forEach(needs::add);
        return needs;
    }
}
