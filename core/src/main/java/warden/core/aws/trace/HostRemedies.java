package warden.core.aws.trace;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.Json;
import warden.core.document.JsonSpelling;
import warden.core.names.Zone;
import warden.core.trace.Remedy;

/** What leads a host to its site, as changes of readings: a record, a name of a distribution, a certificate, where its links go. */
final class HostRemedies {
    /** Source: ACM User Guide, "Certificate characteristics". */
    private static final Duration VALIDITY = Duration.ofDays(395);

    private final AwsCloud cloud;

    HostRemedies(AwsCloud cloud) {
        this.cloud = cloud;
    }

    /** Returns the account with a distribution that lists the host. */
    Optional<Account> accountListing(String host) {
        return cloud.accounts().stream()
                .filter(account -> account.edges().distributionsByHost().lists(host))
                .findFirst();
    }

    /** Returns a record that leads the host to the distribution that lists it, or to the bucket that bears its name. */
    Remedy record(String host, Zone zone) {
        Optional<String> edge = accountListing(host)
                .flatMap(account -> account.edges().distributionsByHost().nearest(host))
                .map(Distribution::domain);
        Optional<String> target = edge.or(() -> cloud.ownerOf(host)
                .map(account -> account.bucket(host))
                .filter(bucket -> bucket.website().found().isPresent())
                .flatMap(bucket -> bucket.region().found())
                .map(StorageEndpoint::websiteHost));
        return target.flatMap(name -> recordTo(name, host, zone))
                .orElse(Remedy.inWords("Add an alias record for the host that leads to its distribution or bucket."));
    }

    private Optional<Remedy> recordTo(String name, String host, Zone zone) {
        String record = Json.text(
                Json.object("Name", host + ".", "Type", "A", "AliasTarget", Json.object("DNSName", name + ".")));
        String says = "Add an alias record for the host that leads to " + name + ".";
        return cloud.accounts().stream()
                .flatMap(account -> Remedy.edited(account, "zone-records", zone.id(), "/ResourceRecordSets/-", record)
                        .map(line -> Remedy.of(says, account, line))
                        .stream())
                .findFirst();
    }

    /** Returns what puts the host among the names of the distribution with this domain. */
    Remedy listing(String host, String target) {
        String says =
                "Add " + host + " to the distribution's alternate domain names, with a certificate that covers it.";
        return cloud.accounts().stream()
                .flatMap(account -> account.edges().distributions().stream()
                        .filter(edge -> edge.domain().equals(target))
                        .flatMap(edge -> {
                            String aliases = edge.config().at() + "/Aliases/Items";
                            List<String> all = new ArrayList<>(edge.aliases());
                            all.add(host);
                            String items =
                                    all.stream().map(JsonSpelling::quoted).collect(Collectors.joining(",", "[", "]"));
                            return Remedy.edited(account, "distribution", edge.arn(), aliases, items).stream();
                        })
                        .map(line -> Remedy.of(says, account, line)))
                .findFirst()
                .orElse(Remedy.inWords(says));
    }

    /** A certificate for the host, in the region that the CDN reads, shown by the distribution. */
    static Remedy certified(Account account, Distribution distribution, String host, Instant at) {
        String says = "Request a certificate that covers the host in us-east-1, and set it on the distribution.";
        String arn = "arn:aws:acm:us-east-1:" + account.number() + ":certificate/requested";
        String certificate = Json.text(Json.object(
                "Certificate",
                Json.object(
                        "CertificateArn",
                        arn,
                        "DomainName",
                        host,
                        "SubjectAlternativeNames",
                        List.of(host),
                        "Status",
                        "ISSUED",
                        "NotAfter",
                        at.plus(VALIDITY).toString())));
        String shown = Json.text(Json.object(
                "ACMCertificateArn", arn, "SSLSupportMethod", "sni-only", "MinimumProtocolVersion", "TLSv1.2_2021"));
        return Remedy.edited(
                        account,
                        "distribution",
                        distribution.arn(),
                        distribution.config().at() + "/ViewerCertificate",
                        shown)
                .map(line -> Remedy.of(says, account, line, Remedy.found("certificate", arn, certificate)))
                .orElse(Remedy.inWords(says));
    }

    /** Returns what makes a certificate last from now on. */
    static Remedy renewed(Account account, Certificate certificate, Instant at) {
        return Remedy.setting(
                "Renew the certificate.",
                account,
                "certificate",
                certificate.arn(),
                "/Certificate/NotAfter",
                Json.text(at.plus(VALIDITY).toString()));
    }

    /** Returns what leads the links into a single-page application to its front page. */
    Remedy linksToFrontPage(String host) {
        String says =
                "Lead links into the application to the index document: by a custom error response for 403 and 404 with"
                        + " status 200, or as the website's error document.";
        return accountListing(host)
                .flatMap(account -> account.edges()
                        .distributionsByHost()
                        .nearest(host)
                        .map(edge -> Remedy.setting(
                                says,
                                account,
                                "distribution",
                                edge.arn(),
                                edge.config().at() + "/CustomErrorResponses",
                                toFrontPage(edge))))
                .orElse(Remedy.inWords(says));
    }

    private static String toFrontPage(Distribution edge) {
        String page = "/" + (edge.rootObject().isEmpty() ? "index.html" : edge.rootObject());
        return Json.text(Json.object(
                "Quantity",
                2,
                "Items",
                List.of(403, 404).stream()
                        .map(status ->
                                Json.object("ErrorCode", status, "ResponsePagePath", page, "ResponseCode", "200"))
                        .toList()));
    }
}
