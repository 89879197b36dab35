package warden.report;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.audit.Finding;
import warden.core.cloud.Cloud;
import warden.core.document.DisplayText;

/**
 * What people call the things that findings are about: a distribution and a certificate go by the host that they serve, with the identifier
 * behind it, a bucket and a credential by their own name.
 */
final class Names {
    /** The hosts of distributions and certificates, by their ARNs. */
    private final Map<String, String> hosts = new LinkedHashMap<>();

    private final List<Cloud> clouds;

    Names(List<Cloud> clouds) {
        this.clouds = List.copyOf(clouds);
        clouds.forEach(cloud -> cloud.hostsOfParts().forEach(hosts::putIfAbsent));
    }

    /** Returns what people call the thing with this identifier. */
    String of(String subject) {
        String id = idOf(subject);
        return DisplayText.name(
                host(subject).map(host -> host + " (" + id + ")").orElse(id));
    }

    /** Returns the host that the thing is known by, or else its identifier. */
    String brief(String subject) {
        return DisplayText.name(host(subject).orElse(idOf(subject)));
    }

    private Optional<String> host(String subject) {
        return Optional.ofNullable(hosts.get(subject));
    }

    /** Returns how the thing with this identifier is called by itself. */
    String idOf(String subject) {
        return clouds.stream()
                .flatMap(cloud -> cloud.shortName(subject).stream())
                .findFirst()
                .orElse(subject);
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
