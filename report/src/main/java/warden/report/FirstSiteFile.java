package warden.report;

import java.util.List;
import warden.core.cloud.Clouds;
import warden.core.document.JsonSpelling;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SitePattern;

/** A first site file, from what a survey shows, with remarks that say what to correct. */
public final class FirstSiteFile {
    private FirstSiteFile() {}

    /** Returns the text. */
    public static String of(Clouds clouds, List<? extends Publisher> publishers) {
        StringBuilder out =
                new StringBuilder("# What the sites are meant to be. Made from what a survey shows: correct it.\n"
                        + "# A pattern that is stated makes right what belongs to it; take a line out to have it found again each time.\n"
                        + "# Patterns: " + patterns() + ".\n");
        out.append(clouds.sites().isEmpty() ? "sites: []\n" : "sites:\n");
        for (Site site : clouds.sites()) {
            out.append("  - name: ").append(quoted(site.name())).append('\n');
            out.append("    hosts: ").append(list(site.hosts())).append('\n');
            site.found().ifPresent(found -> out.append(pattern(found)));
            out.append("    # routing: single-page          # where every deep link shows the index; else pages\n");
            site.storeIds().stream()
                    .findFirst()
                    .map(id -> clouds.statedName(id).orElse(id))
                    .ifPresent(name ->
                            out.append("    bucket: ").append(quoted(name)).append('\n'));
            List<String> credentials = publishers.stream()
                    .filter(publisher -> publisher.sites().contains(site))
                    .map(Publisher::id)
                    .toList();
            if (!credentials.isEmpty()) {
                out.append("    publishing:\n      credentials: ")
                        .append(list(credentials))
                        .append('\n');
                out.append("      # pipelines: [.github/workflows/publish.yml]\n      # folder: public\n");
            }
        }
        return out.append("# Accounts that may reach the buckets: trusted-accounts: [\"109876543210\"]\n"
                        + "trusted-accounts: []\n"
                        + "gate: high                          # critical, high, medium, low or never\n"
                        + "# waivers:\n"
                        + "#   - check: cdn-logging-off\n"
                        + "#     subject: \"*\"                  # a pattern over subjects\n"
                        + "#     until: 2027-03-31             # past it the finding is back\n"
                        + "#     reason: agreed with the harbour board, cost\n"
                        + "waivers: []\n")
                .toString();
    }

    private static String patterns() {
        return String.join(
                ", ",
                java.util.Arrays.stream(SitePattern.values())
                        .map(SitePattern::word)
                        .toList());
    }

    /** What was found open is not stated for the owner: stating it would approve it. */
    private static String pattern(SitePattern found) {
        return found == SitePattern.OPEN_BUCKET_BEHIND_CDN
                ? "    # pattern: " + found.word()
                        + "   # as found; state it if it is meant, else sealed-bucket-behind-cdn\n"
                : "    pattern: " + found.word() + "   # as found\n";
    }

    private static String list(List<String> texts) {
        return "[" + String.join(", ", texts.stream().map(FirstSiteFile::quoted).toList()) + "]";
    }

    /** JSON's texts are YAML's too. */
    private static String quoted(String text) {
        return text.matches("[A-Za-z][A-Za-z0-9.-]*") ? text : JsonSpelling.quoted(text);
    }
}
