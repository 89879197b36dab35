package warden.standin.aws;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;
import warden.core.aws.site.AwsCloud;

/** The hosts at which a simulated account answers over TLS: the CDN's own names, and those that the surveyed certificates cover. */
final class EdgeHosts {
    private EdgeHosts() {}

    /** Returns the hosts for which visitors would be shown a certificate that fits. */
    static Set<String> of(AwsCloud cloud) {
        Set<String> hosts = new LinkedHashSet<>(List.of("localhost"));
        for (Account account : cloud.accounts()) {
            for (Distribution distribution : account.edges().distributions()) {
                if (!distribution.domain().isEmpty()) {
                    hosts.add(distribution.domain());
                }
                distribution
                        .certificate()
                        .managed()
                        .flatMap(arn -> account.names().certificate(arn).found())
                        .ifPresent(certificate -> distribution.aliases().stream()
                                .filter(alias -> covers(certificate, alias))
                                .forEach(hosts::add));
            }
            account.buckets().stream()
                    .filter(bucket -> bucket.name().indexOf('.') < 0)
                    .forEach(bucket -> bucket.region()
                            .found()
                            .ifPresent(region -> hosts.add(bucket.name() + ".s3." + region + ".amazonaws.com")));
            account.buckets()
                    .forEach(bucket ->
                            bucket.region().found().ifPresent(region -> hosts.add("s3." + region + ".amazonaws.com")));
        }
        return hosts;
    }

    private static boolean covers(Certificate certificate, String alias) {
        return certificate.covers(alias) || certificate.names().contains(alias);
    }
}
