package warden.core.aws.checks.dns;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
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
import warden.core.aws.names.HostedZone;
import warden.core.aws.site.Delegation;
import warden.core.document.Instants;
import warden.core.document.JsonPart;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** Finds registrations that end soon, or that can be moved away. */
final class DomainExpiring implements AwsCheck<DomainExpiring.Subject> {
    private static final CheckCard CARD = new CheckCard(
            "domain-expiring",
            Area.DNS,
            Severity.HIGH,
            "registration ends within 45 days without renewing by itself (medium: transfer lock off)",
            "domain",
            "Whoever registers the domain after you owns every host under it.",
            "Turn on automatic renewal and the transfer lock.",
            "Route 53 Developer Guide, \"Renewing registration for a domain\" and \"Locking a domain to prevent unauthorized transfer\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final int SOON_DAYS = 45;

    /** The registration of one domain, as the account describes it. */
    record Subject(AwsContext context, String domain, Reading.Found<JsonPart> found) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(domain, HostVerdicts.site(context, domain), needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String domain : account.survey().subjects("domain")) {
                if (account.survey().reading("domain", domain) instanceof Reading.Found<JsonPart> found) {
                    subjects.add(new Subject(context, domain, found));
                }
            }
        }
        return subjects;
    }

    /** Besides the refused registrations, those of the apexes of zones of which nobody asked. */
    @Override
    public List<Verdict> unread(AwsContext context) {
        Map<String, Verdict> open = new LinkedHashMap<>();
        for (Account account : context.cloud().accounts()) {
            for (String domain : account.survey().subjects("domain")) {
                account.survey()
                        .missing("domain", domain)
                        .ifPresent(need -> open.put(
                                domain,
                                new Verdict.Unknown(domain, HostVerdicts.site(context, domain), List.of(need))));
            }
            for (HostedZone zone : account.names().zones()) {
                zone.name()
                        .filter(name -> !zone.isPrivate()
                                && Delegation.of(context.cloud(), name).isEmpty())
                        .flatMap(name -> Delegation.missing(context.cloud(), name))
                        .ifPresent(need -> open.putIfAbsent(
                                need.of(),
                                new Verdict.Unknown(need.of(), HostVerdicts.site(context, need.of()), List.of(need))));
            }
        }
        return List.copyOf(open.values());
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        return List.of(judge(subject.context(), subject.domain(), subject.found()));
    }

    private static Verdict judge(AwsContext context, String domain, Reading.Found<JsonPart> found) {
        Optional<Instant> ends = found.value().text("ExpirationDate").flatMap(Instants::parse);
        boolean renews = found.value().flag("AutoRenew").orElse(false);
        if (ends.isEmpty()) {
            return new Verdict.Unknown(
                    domain,
                    HostVerdicts.site(context, domain),
                    List.of(new Need(
                            "domain",
                            domain,
                            "the end of the registration is missing, or in a form that is not understood",
                            "route53domains:GetDomainDetail")));
        }
        long days = Duration.between(context.at(), ends.get()).toDays();
        if (!renews && days < SOON_DAYS) {
            String says = "The registration of " + domain + (days < 0 ? " has ended" : " ends in " + days + " days")
                    + " and does not renew by itself.";
            return HostVerdicts.flagged(
                    context,
                    CARD,
                    domain,
                    says,
                    List.of(found.at().at("/ExpirationDate", ends.get().toString())));
        }
        List<String> statuses = found.value().texts("StatusList");
        boolean locked = statuses.stream()
                .anyMatch(status -> status.toLowerCase(Locale.ROOT).contains("transferprohibited"));
        if (found.value().find("StatusList").isPresent() && !locked) {
            return new Verdict.Flagged(Finding.of(
                            CARD,
                            domain,
                            HostVerdicts.site(context, domain),
                            "The transfer lock of " + domain + " is off.",
                            List.of(found.at().at("/StatusList", String.join(", ", statuses))))
                    .as(Severity.MEDIUM));
        }
        return HostVerdicts.clean(context, domain);
    }
}
