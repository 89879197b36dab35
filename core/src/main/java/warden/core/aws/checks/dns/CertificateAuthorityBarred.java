package warden.core.aws.checks.dns;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.CheckCard;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.UnreadCertificates;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.site.BucketSite;
import warden.core.checks.DnsCards;
import warden.core.names.AuthorityRecords;
import warden.core.names.HostDirectory;
import warden.core.names.HostRecord;
import warden.core.survey.Need;

/** Finds CAA records that keep the certificate authority in use from issuing. */
final class CertificateAuthorityBarred implements AwsCheck<CertificateAuthorityBarred.Subject> {
    private static final CheckCard CARD = DnsCards.CERTIFICATE_AUTHORITY_BARRED;

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Set<String> AMAZON = Set.of("amazon.com", "amazontrust.com", "awstrust.com", "amazonaws.com");

    /** A managed certificate that is used, or whose hosts a distribution has. */
    record Subject(AwsContext context, Account account, Certificate certificate) implements Judged {
        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(
                    certificate.arn(),
                    context.cloud().siteNamedBy(certificate.names()).map(BucketSite::name),
                    needs);
        }
    }

    @Override
    public List<Subject> subjects(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.names().certificates().stream()
                    .filter(certificate -> certificate.type().equals("AMAZON_ISSUED"))
                    .forEach(certificate -> subjects.add(new Subject(context, account, certificate)));
        }
        return subjects;
    }

    @Override
    public List<Verdict> unread(AwsContext context) {
        return UnreadCertificates.verdicts(context);
    }

    /** Of several certificates whose names one record bars, the first reports it. */
    @Override
    public List<Verdict> told(List<Verdict> verdicts) {
        Map<String, Verdict> byPlace = new LinkedHashMap<>();
        for (Verdict verdict : verdicts) {
            String place = verdict instanceof Verdict.Flagged flagged
                    ? flagged.finding().subject()
                    : verdict instanceof Verdict.Clean clean
                            ? "clean " + clean.subject()
                            : "open " + ((Verdict.Unknown) verdict).subject();
            byPlace.putIfAbsent(place, verdict);
        }
        return List.copyOf(byPlace.values());
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        Certificate certificate = subject.certificate();
        boolean wanted = !certificate.users().isEmpty()
                || subject.account().edges().distributions().stream()
                        .anyMatch(each -> each.aliases().stream().anyMatch(certificate::covers));
        List<Need> unread =
                wanted ? List.of() : UnreadDistribution.needs(subject.account().edges().unreadDistributions().stream());
        if (!unread.isEmpty()) {
            return List.of(subject.unknown(unread));
        }
        return (wanted ? certificate.names() : List.<String>of())
                .stream()
                        .map(name -> judge(subject.context(), name, certificate))
                        .toList();
    }

    private static Verdict judge(AwsContext context, String name, Certificate certificate) {
        boolean wild = name.startsWith("*.");
        String host = wild ? name.substring(2) : name;
        HostDirectory hosts = context.cloud().hosts();
        for (String at = host; at.contains("."); at = at.substring(at.indexOf('.') + 1)) {
            List<HostRecord> records = AuthorityRecords.of(hosts, at);
            if (!records.isEmpty()) {
                return AuthorityRecords.allow(records, wild, AMAZON)
                        ? HostVerdicts.clean(context, host)
                        : HostVerdicts.flagged(
                                context,
                                CARD,
                                at,
                                "The CAA record of " + at
                                        + " does not allow the certificate authority that issues the certificate for "
                                        + name + ".",
                                List.of(records.get(0).at(), certificate.at()));
            }
            Optional<Need> need = HostVerdicts.unreadZone(context, at);
            if (need.isPresent() && hosts.zoneOf(at).isPresent()) {
                return new Verdict.Unknown(at, HostVerdicts.site(context, host), List.of(need.get()));
            }
        }
        return HostVerdicts.clean(context, host);
    }
}
