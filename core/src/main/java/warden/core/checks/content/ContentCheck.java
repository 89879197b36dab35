package warden.core.checks.content;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import warden.core.audit.AuditContext;
import warden.core.audit.CheckCard;
import warden.core.audit.EachCheck;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.cloud.ObjectStore;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFolder;
import warden.core.site.Site;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** A check that asks its question of the folder that is about to be published, of what the sites' stores hold, or of both. */
interface ContentCheck extends EachCheck<ContentCheck.Stored> {
    /** What would settle a question is not told better by thousands of readings than by some of them. */
    int MOST_NEEDS = 5;

    /** The folder and its site. */
    record Folder(PublishedFolder folder, Optional<Site> inSite) {
        Optional<String> site() {
            return inSite.map(Site::name);
        }

        Finding finding(CheckCard card, String path, int line, String quote, String says) {
            return Finding.of(card, path, site(), says, List.of(folder.cite(path, line, quote)))
                    .at(quote);
        }

        Finding finding(CheckCard card, PublishedFile.Spot spot, String path, String says) {
            return finding(card, path, spot.line(), spot.quote(), says);
        }
    }

    /** A store that holds a site's objects. */
    record Stored(ObjectStore store, Site site) implements Judged {
        Finding finding(CheckCard card, String key, Citation at, String says) {
            return Finding.of(card, store.object(key), Optional.of(site.name()), says, List.of(at));
        }

        Verdict unknown(Need need) {
            return new Verdict.Unknown(store.id(), Optional.of(site.name()), List.of(need));
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(store.id(), Optional.of(site.name()), needs);
        }

        /** Returns that nothing is wrong; or, where not all of the names are known, that this is not known. */
        Verdict cleanUnlessUnread() {
            return store.unlistedObjects().map(this::unknown).orElseGet(this::clean);
        }

        /**
         * Returns what keeps from telling how the objects are stored of which a check asks: the names that were not listed, and the listed
         * ones of which nobody asked. Of very many, some.
         */
        List<Need> unreadHeads(Predicate<String> wanted) {
            List<Need> needs = new ArrayList<>(store.unlistedObjects().stream().toList());
            Set<String> keys = new LinkedHashSet<>(store.asked());
            store.listed().ifPresent(listing -> keys.addAll(listing.keys()));
            keys.stream()
                    .filter(wanted)
                    .map(key -> store.stored(key)
                            .map(Reading::missing)
                            .orElse(Optional.of(
                                    new Need("object", store.object(key), "never asked", store.permissionToAsk()))))
                    .flatMap(Optional::stream)
                    .limit(MOST_NEEDS)
                    .forEach(needs::add);
            return needs;
        }

        Verdict clean() {
            return new Verdict.Clean(store.id(), Optional.of(site.name()));
        }
    }

    /** Returns the findings in the folder. */
    default List<Finding> inFolder(Folder folder) {
        return List.of();
    }

    /** Returns the verdicts on what is stored; none where only a folder can tell. */
    default List<Verdict> inStore(Stored stored) {
        return List.of();
    }

    /** True when files that could not be read leave the question open. */
    default boolean asksAboutTexts() {
        return false;
    }

    @Override
    default List<Stored> subjects(AuditContext context) {
        return context.once(ContentCheck.class, () -> context.clouds().stream()
                .flatMap(cloud -> cloud.siteStores().stream())
                .map(each -> new Stored(each.store(), each.site()))
                .toList());
    }

    @Override
    default List<Verdict> examine(Stored subject) {
        return inStore(subject);
    }

    /** What is said of the folder, and of the files in it that could not be read. */
    @Override
    default List<Verdict> unread(AuditContext context) {
        List<Verdict> verdicts = new ArrayList<>();
        context.folder().ifPresent(folder -> {
            Folder whole = new Folder(folder, siteOf(context, folder));
            List<Finding> findings = inFolder(whole);
            findings.forEach(finding -> verdicts.add(new Verdict.Flagged(finding)));
            if (findings.isEmpty()) {
                verdicts.add(new Verdict.Clean(folder.name(), whole.site()));
            }
            if (asksAboutTexts()) {
                folder.unread()
                        .forEach((path, why) -> verdicts.add(new Verdict.Unknown(
                                path, whole.site(), List.of(new Need("published-file", path, why, "")))));
            }
        });
        return verdicts;
    }

    /** Returns the site whose folder it is: as the site file states, else the only one there is. */
    private static Optional<Site> siteOf(AuditContext context, PublishedFolder folder) {
        List<Site> sites = context.sites();
        String name = folder.name().replaceAll("/+$", "");
        Optional<Site> stated = sites.stream()
                .filter(site -> site.stated()
                        .flatMap(each -> each.folder())
                        .map(path -> path.replaceAll("/+$", ""))
                        .filter(path -> name.equals(path) || name.endsWith("/" + path))
                        .isPresent())
                .findFirst();
        return stated.isPresent() || sites.size() != 1 ? stated : Optional.of(sites.get(0));
    }
}
