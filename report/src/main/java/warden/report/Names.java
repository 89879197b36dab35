package warden.report;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.storage.Bucket;
import warden.core.document.Shown;
import warden.core.site.Estate;

/**
 * What people call the things that findings are about: a distribution and a certificate go by the host that they serve, with the identifier
 * behind it, a bucket and a credential by their own name.
 */
final class Names {
    /** The hosts of distributions and certificates, by their ARNs. */
    private final Map<String, String> hosts = new LinkedHashMap<>();

    Names(Estate estate) {
        for (Account account : estate.accounts()) {
            for (Distribution distribution : account.distributions()) {
                Stream.concat(distribution.aliases().stream(), Stream.of(distribution.domain()))
                        .filter(host -> !host.isEmpty())
                        .findFirst()
                        .ifPresent(host -> hosts.putIfAbsent(distribution.arn(), host));
            }
            for (UnreadDistribution unread : account.unreadDistributions()) {
                unread.aliases().stream().findFirst().ifPresent(host -> hosts.putIfAbsent(unread.arn(), host));
            }
            for (Certificate certificate : account.certificates()) {
                certificate.names().stream().findFirst().ifPresent(host -> hosts.putIfAbsent(certificate.arn(), host));
            }
        }
    }

    /** Returns what people call the thing with this identifier. */
    String of(String subject) {
        String id = idOf(subject);
        return Shown.name(host(subject).map(host -> host + " (" + id + ")").orElse(id));
    }

    /** Returns the host that the thing is known by, or else its identifier. */
    String brief(String subject) {
        return Shown.name(host(subject).orElse(idOf(subject)));
    }

    private Optional<String> host(String subject) {
        return Optional.ofNullable(hosts.get(subject));
    }

    private static String idOf(String subject) {
        return Bucket.nameIn(subject)
                .orElseGet(() -> subject.startsWith("arn:") || subject.startsWith("hostedzone/")
                        ? subject.substring(subject.lastIndexOf('/') + 1)
                        : subject);
    }

    /** Returns what a finding says, with the name of its subject: before the sentence where that does not hold it. */
    String said(Finding finding) {
        String subject = finding.subject();
        String says = finding.says();
        String id = idOf(subject);
        if (!says.contains(id)) {
            return of(subject) + ": " + says;
        }
        String host = host(subject).orElse(id);
        return says.contains(host) ? says : says.replaceFirst(Pattern.quote(id), Matcher.quoteReplacement(of(subject)));
    }
}
