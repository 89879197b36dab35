package warden.core.aws.mend;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.ViewerCertificate;
import warden.core.aws.certificate.Certificate;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;
import warden.core.survey.SurveyLine;

/**
 * Which certificate a distribution is to show, where the account has a better one. Issuing one is left to a person. Source: CloudFront
 * Developer Guide, "Requirements for using SSL/TLS certificates with CloudFront"; CloudFront API Reference, ViewerCertificate.
 */
final class CertificateRemedies {
    private static final String ASPECT = "certificate";

    private final Account account;
    private final Instant at;

    CertificateRemedies(Account account, Instant at) {
        this.account = account;
        this.at = at;
    }

    /** Returns what to do about a finding that is about a certificate, or that a distribution has none; absent for others. */
    Optional<Proposal> of(Finding finding) {
        return switch (finding.card().id()) {
            case "certificate-missing",
                    "certificate-not-issued",
                    "certificate-not-covering",
                    "certificate-expiring",
                    "certificate-not-renewing",
                    "certificate-weak-key",
                    "certificate-wrong-region" -> Optional.of(better(finding));
            default -> Optional.empty();
        };
    }

    private Proposal better(Finding finding) {
        List<Change> changes = new ArrayList<>();
        for (Distribution edge : edges(finding.subject())) {
            Optional<Certificate> better = account.names().certificates().stream()
                    .filter(each -> !each.arn().equals(finding.subject()))
                    .filter(each -> isFit(each, edge))
                    .max(Comparator.comparing(each -> each.expires().orElseThrow()));
            if (better.isEmpty()) {
                return Proposal.byHand(
                        "the account has no other certificate in " + Certificate.CDN_REGION
                                + " that is issued, lasts, and covers " + String.join(", ", edge.aliases()),
                        "Have one issued (aws acm request-certificate --region " + Certificate.CDN_REGION
                                + " --validation-method DNS), put the records that it asks for into the zone, and mend again. "
                                + finding.remedy());
            }
            changes.add(show(edge, better.get()));
        }
        return changes.isEmpty()
                ? Proposal.byHand("no distribution that was read shows it, or waits for it", finding.remedy())
                : new Proposal.Changes(changes);
    }

    private Set<Distribution> edges(String subject) {
        Set<Distribution> edges = new LinkedHashSet<>(account.edges().distributionsShowing(subject));
        account.edges().distributions().stream()
                .filter(edge -> edge.arn().equals(subject))
                .forEach(edges::add);
        account.names().certificates().stream()
                .filter(each -> each.arn().equals(subject))
                .forEach(certificate -> account.edges().distributionsWithoutCertificate().stream()
                        .filter(edge -> edge.aliases().stream().anyMatch(certificate::covers))
                        .forEach(edges::add));
        return edges;
    }

    private boolean isFit(Certificate certificate, Distribution edge) {
        return certificate.status().equals("ISSUED")
                && certificate.region().equals(Certificate.CDN_REGION)
                && certificate.expires().filter(end -> end.isAfter(at)).isPresent()
                && edge.aliases().stream().allMatch(certificate::covers);
    }

    private Change show(Distribution edge, Certificate certificate) {
        Change change = EdgeConfig.change(
                Phase.SWITCH,
                "show-certificate",
                account,
                edge.arn(),
                "Show the certificate for " + String.join(", ", certificate.names()),
                (now, distribution, config) -> showing(distribution, config, certificate.arn()));
        return new Change(change.key(), change.phase(), change.name(), change.account(), state -> change.edit()
                .on(state)
                .map(edited -> Accounts.in(state, account.number())
                        .map(now -> edited.telling(uses(now, edge, certificate.arn())))
                        .orElse(edited)));
    }

    private static String showing(Distribution edge, String config, String arn) {
        ViewerCertificate old = edge.certificate();
        boolean hasOwn = !old.isTheCdns();
        return JsonEdit.set(
                config,
                "/ViewerCertificate",
                Json.text(Json.object(
                        "CloudFrontDefaultCertificate",
                        false,
                        "ACMCertificateArn",
                        arn,
                        "SSLSupportMethod",
                        hasOwn && !old.supportMethod().isEmpty() ? old.supportMethod() : "sni-only",
                        "MinimumProtocolVersion",
                        hasOwn && !old.minimumProtocol().isEmpty() ? old.minimumProtocol() : EdgeRemedies.LEAST_TLS,
                        "Certificate",
                        arn,
                        "CertificateSource",
                        "acm")));
    }

    /** Certificates tell what uses them: the old one does not name the distribution any more, the new one does. */
    private static List<SurveyLine> uses(Account now, Distribution edge, String arn) {
        List<SurveyLine> lines = new ArrayList<>();
        for (Certificate each : now.names().certificates()) {
            List<String> users = new ArrayList<>(each.users());
            boolean isChanged = each.arn().equals(arn)
                    ? !users.contains(edge.arn()) && users.add(edge.arn())
                    : users.remove(edge.arn());
            if (isChanged) {
                now.survey()
                        .reading(ASPECT, each.arn())
                        .found()
                        .ifPresent(body -> lines.add(line(each.arn(), body, users)));
            }
        }
        return lines;
    }

    private static SurveyLine line(String arn, JsonPart body, List<String> users) {
        String at = body.find("Certificate").isPresent() ? "/Certificate/InUseBy" : "/InUseBy";
        return new SurveyLine(
                "",
                1,
                ASPECT,
                arn,
                "acm:DescribeCertificate",
                SurveyLine.Outcome.FOUND,
                JsonEdit.set(JsonSpelling.of(body), at, Json.text(users)));
    }
}
