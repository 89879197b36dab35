package warden.core.site;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.algebra.Glob;

/**
 * What the owner says: the sites and what they are meant to be, trusted accounts, the gate, and what was agreed to be left.
 *
 * @param gate the severity word at which an audit fails; absent when the file does not say
 */
public record SiteFile(
        List<StatedSite> sites, List<String> trustedAccounts, Optional<String> gate, List<Waiver> waivers) {
    public SiteFile {
        sites = List.copyOf(sites);
        trustedAccounts = List.copyOf(trustedAccounts);
        waivers = List.copyOf(waivers);
    }

    /** Returns a file that says nothing. */
    public static SiteFile empty() {
        return new SiteFile(List.of(), List.of(), Optional.empty(), List.of());
    }

    /** Returns the same file, whose waivers name checks otherwise. */
    public SiteFile naming(UnaryOperator<String> check) {
        return new SiteFile(
                sites,
                trustedAccounts,
                gate,
                waivers.stream()
                        .map(each -> new Waiver(check.apply(each.check()), each.subject(), each.until(), each.reason()))
                        .toList());
    }

    /** How a site finds its pages. */
    public enum Routing {
        /** Each page is an object of its own. */
        PAGES,
        /** Every deep link leads to the index document. */
        SINGLE_PAGE
    }

    /**
     * One site as stated; what is absent is found out.
     *
     * @param credentials ARNs of the users and roles that publish it
     * @param pipelines paths of pipeline files
     * @param isPrivate true when it is not meant for everybody
     */
    public record StatedSite(
            String name,
            List<String> hosts,
            Optional<SitePattern> pattern,
            Optional<Routing> routing,
            Optional<String> index,
            Optional<String> error,
            Optional<String> bucket,
            List<String> credentials,
            List<String> pipelines,
            Optional<String> folder,
            boolean isPrivate) {
        public StatedSite(
                String name,
                List<String> hosts,
                Optional<SitePattern> pattern,
                Optional<Routing> routing,
                Optional<String> index,
                Optional<String> error,
                Optional<String> bucket,
                List<String> credentials,
                List<String> pipelines,
                Optional<String> folder) {
            this(name, hosts, pattern, routing, index, error, bucket, credentials, pipelines, folder, false);
        }

        public StatedSite {
            hosts = List.copyOf(hosts);
            credentials = List.copyOf(credentials);
            pipelines = List.copyOf(pipelines);
        }
    }

    /**
     * A finding that was agreed to be left.
     *
     * @param subject a pattern over subjects, with {@code *} and {@code ?}
     * @param until the last day on which it holds
     */
    public record Waiver(String check, String subject, LocalDate until, String reason) {
        /** True when the waiver is about this check and subject. */
        public boolean covers(String otherCheck, String otherSubject) {
            return check.equals(otherCheck) && Glob.parse(subject).matches(otherSubject);
        }
    }
}
