package warden.cli;

import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.document.Words;
import warden.core.site.Site;

/** Understands how people name a site: its name, one of its hosts, or as many of the first labels as tell it apart. */
final class SiteNames {
    private static final int MOST_NAMED = 12;

    private SiteNames() {}

    /** Returns the sites that the word names; ends the command when it names none, or may mean several. */
    static List<Site> demand(Clouds clouds, String word) {
        List<Site> exact = clouds.sites().stream()
                .filter(site -> site.name().equals(word) || site.hosts().contains(word))
                .toList();
        if (!exact.isEmpty()) {
            return exact;
        }
        List<Site> near =
                clouds.sites().stream().filter(site -> begins(site, word)).toList();
        if (near.size() == 1) {
            return near;
        }
        throw new InputException(
                ExitCode.WRONG_COMMAND,
                near.isEmpty()
                        ? "--site: the survey shows no site \"" + DisplayText.name(word) + "\"" + known(clouds, word)
                        : "--site: \"" + DisplayText.name(word) + "\" may be " + names(near)
                                + "; name one of them whole");
    }

    private static boolean begins(Site site, String word) {
        return Stream.concat(Stream.of(site.name()), site.hosts().stream())
                .anyMatch(name -> name.startsWith(word + "."));
    }

    private static String known(Clouds clouds, String word) {
        List<String> all = clouds.sites().stream()
                .flatMap(site -> Stream.concat(Stream.of(site.name()), site.hosts().stream()))
                .distinct()
                .toList();
        return Words.perhaps(word, all).orElse(all.isEmpty() ? "" : "; known are " + names(clouds.sites()));
    }

    private static String names(List<Site> sites) {
        return sites.stream()
                        .limit(MOST_NAMED)
                        .map(site -> DisplayText.name(site.name()))
                        .collect(Collectors.joining(", "))
                + (sites.size() > MOST_NAMED ? " and " + (sites.size() - MOST_NAMED) + " more" : "");
    }
}
