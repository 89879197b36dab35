package warden.core.aws.account;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.names.HostedZone;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** The names of one account, as its survey shows them: zones, certificates, and the hosts of managed fronts. Safe for use by several threads. */
public final class AccountNames {
    private final Survey survey;
    private final AccountEdges edges;
    private final Map<String, Reading<Certificate>> certificatesByArn = new ConcurrentHashMap<>();
    private @Nullable List<HostedZone> zones;
    private @Nullable List<String> managedFronts;
    private @Nullable List<Certificate> certificates;

    AccountNames(Survey survey, AccountEdges edges) {
        this.survey = survey;
        this.edges = edges;
    }

    /** As {@link Account#readAhead}. */
    void readAhead() {
        Account.ahead(zones(), HostedZone::records);
    }

    /** Returns the zones that the survey lists, describes, or whose records it holds. */
    public synchronized List<HostedZone> zones() {
        if (zones == null) {
            Set<String> ids = new LinkedHashSet<>(survey.subjects("zone"));
            ids.addAll(survey.subjects("zone-records"));
            survey.listing("zone-list", survey.header().account()).found().ifPresent(list -> list.pages().stream()
                    .flatMap(page -> page.value().list("HostedZones").stream())
                    .flatMap(zone -> zone.text("Id").stream())
                    .map(id -> id.startsWith("/") ? id.substring(1) : id)
                    .forEach(ids::add));
            zones = ids.stream().map(id -> new HostedZone(survey, id)).toList();
        }
        return zones;
    }

    /** Returns a certificate by its ARN. */
    public Reading<Certificate> certificate(String arn) {
        return certificatesByArn.computeIfAbsent(arn, key -> survey.reading("certificate", arn)
                .fold(
                        found -> new Reading.Found<>(Certificate.parse(arn, found), found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need())));
    }

    /** Returns the certificates that the survey describes, in the order of the file. */
    public synchronized List<Certificate> certificates() {
        if (certificates == null) {
            certificates = survey.subjects("certificate").stream()
                    .flatMap(arn -> certificate(arn).found().stream())
                    .toList();
        }
        return certificates;
    }

    /** Returns the ARNs of the certificates that a line is about or a distribution shows, each once, read or not. */
    public Set<String> namedCertificates() {
        Set<String> named = new LinkedHashSet<>(survey.subjects("certificate"));
        edges.distributions()
                .forEach(distribution -> distribution.certificate().managed().ifPresent(named::add));
        return named;
    }

    /** Returns what keeps from telling which hosts the managed hosting fronts of the account serve. */
    public List<Need> unreadManagedFronts() {
        List<Need> needs = new ArrayList<>();
        for (String domain : survey.subjects("managed-app-domain")) {
            survey.missing("managed-app-domain", domain).ifPresent(needs::add);
        }
        for (String app : survey.subjects("managed-app")) {
            survey.missing("managed-app", app)
                    .filter(need -> app.endsWith("/*"))
                    .ifPresent(needs::add);
            boolean asked = survey.subjects("managed-app-domain").stream().anyMatch(domain -> domain.startsWith(app));
            if (!asked && !app.endsWith("/*")) {
                survey.missing("managed-app-domain", app).ifPresent(needs::add);
            }
        }
        return needs;
    }

    /** True when a managed hosting front of the account says that its hosts lead to this distribution name. */
    public boolean isManagedFront(String distributionName) {
        return managedFronts().stream().anyMatch(record -> record.contains(distributionName));
    }

    private synchronized List<String> managedFronts() {
        if (managedFronts == null) {
            managedFronts = survey.subjects("managed-app-domain").stream()
                    .flatMap(subject -> survey.reading("managed-app-domain", subject).found().stream())
                    .flatMap(answer -> answer.list("domainAssociation", "subDomains").stream())
                    .flatMap(part -> part.text("dnsRecord").stream())
                    .toList();
        }
        return managedFronts;
    }
}
