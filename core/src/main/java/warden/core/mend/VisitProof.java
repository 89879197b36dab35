package warden.core.mend;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import warden.core.audit.AuditContext;
import warden.core.cloud.Following;
import warden.core.document.Placeholders;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.trace.Case;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;

/** Holds what visitors get before a change against what they get after it: an answer that was good must stay as good. */
final class VisitProof {
    private final AuditContext old;
    private final Map<String, Case> cases = new LinkedHashMap<>();
    private final Map<String, Trace> before = new LinkedHashMap<>();
    /** What each visit may rest on, by its identifiers: the stores and edges of the sites that have the host. */
    private final Map<String, Set<String>> parts = new LinkedHashMap<>();
    /** The addresses of stores and edges themselves, by which no visitor is meant to come. */
    private final Set<String> unmeant = new HashSet<>();

    VisitProof(AuditContext old) {
        this.old = old;
        Following following = old.everywhere().following(false);
        TreeSet<String> hosts = new TreeSet<>();
        old.sites().stream().map(Site::hosts).forEach(hosts::addAll);
        for (String host : hosts) {
            for (Case each : following.cases(host)) {
                String url = each.address().toString();
                if (!Placeholders.isIn(url) && cases.putIfAbsent(url, each) == null) {
                    before.put(url, following.trace(Visit.get(each.address(), old.at())));
                    parts.put(url, parts(host));
                    if (isOwnName(each) || (each.isAroundEdge() && !isStatedOpen(host))) {
                        unmeant.add(url);
                    }
                }
            }
        }
    }

    /** True where it is stated that visitors may read the store itself: its own addresses are the site's then. */
    private boolean isStatedOpen(String host) {
        return old.sites().stream().anyMatch(site -> site.hosts().contains(host) && site.isStatedOpen());
    }

    private Set<String> parts(String host) {
        Set<String> parts = new HashSet<>();
        for (Site site : old.sites()) {
            if (site.hosts().contains(host)) {
                parts.addAll(site.storeIds());
                parts.addAll(site.edgeIds());
                parts.add(site.account().number());
            }
        }
        return parts;
    }

    /** What became of the visits. */
    record Result(List<String> worse, List<Need> open, List<String> closed) {}

    /**
     * Follows the same visits in another state.
     *
     * @param touched what was changed that visitors' answers rest on, by its identifiers
     */
    Result in(AuditContext state, Set<String> touched) {
        Following after = state.everywhere().following(false);
        List<String> worse = new ArrayList<>();
        List<Need> open = new ArrayList<>();
        List<String> closed = new ArrayList<>();
        cases.forEach((url, each) -> {
            Trace one = before.get(url);
            Trace other = after.trace(Visit.get(each.address(), state.at()));
            if (isSame(one, other)) {
                // What decides is not known, an edge's function perhaps, and it may decide another way now.
                boolean isOpaque =
                        other.open() && !other.needs().stream().allMatch(need -> OF_NAMES.contains(need.aspect()));
                boolean isOwn = !unmeant.contains(url);
                if (isOpaque
                        && isOwn
                        && !isNobodys(one)
                        && parts.get(url).stream().anyMatch(touched::contains)) {
                    settle(url, one, other, open);
                }
                return;
            }
            if (unmeant.contains(url)) {
                // Whether somebody may come in this way is asked of who may do what; that nobody does any more is
                // meant.
                if (one.possibly(Outcome::isPage) && other.surely(outcome -> !outcome.isPage())) {
                    closed.add(url);
                }
                return;
            }
            if (isNobodys(one)) {
                return;
            }
            if (one.outcomes().stream().noneMatch(VisitProof::isGood) && isAsOpen(one, other)) {
                worsened(url, one, other).ifPresent(worse::add);
                return;
            }
            if (!isComparable(one, other)) {
                settle(url, one, other, open);
                return;
            }
            if (!isAsGood(
                    each.address(), one.outcomes().get(0), other.outcomes().get(0), after, state)) {
                worse.add(url + " answered " + one.outcomes().get(0).said() + ", and then "
                        + other.outcomes().get(0).said());
            }
        });
        return new Result(worse, open, closed);
    }

    /** What tells where a name leads, at either provider. */
    private static final Set<String> OF_NAMES =
            Set.of("zone-list", "zone", "zone-records", "domain", "dns-zone-list", "dns-zone", "dns-records");

    /**
     * Where it is not known whether a name leads here, what is told is what comes if it does; if it does not, a change here changes nothing.
     * Whatever else is not known (an object's ACL, an edge's function) may come out another way after the change, and proves nothing.
     */
    private static boolean isAsOpen(Trace one, Trace other) {
        boolean sameNames = one.open() == other.open()
                && Set.copyOf(one.needs()).equals(Set.copyOf(other.needs()))
                && one.needs().stream().allMatch(need -> OF_NAMES.contains(need.aspect()));
        return one.surely(outcome -> true) || sameNames;
    }

    /** One answer on each side, and beside it nothing, or the same that is not known. */
    private static boolean isComparable(Trace one, Trace other) {
        boolean isOne = one.outcomes().size() == 1 && other.outcomes().size() == 1;
        return (one.isCertain() && other.isCertain()) || (isOne && one.open() && isAsOpen(one, other));
    }

    /**
     * Nothing that the accounts hold answers there: every list was read and does not name it, and no reading tells whose it is. What an edge's
     * function does is another matter: that may be a page.
     */
    private static boolean isNobodys(Trace trace) {
        return trace.outcomes().stream().noneMatch(VisitProof::isGood)
                && !trace.needs().isEmpty()
                && trace.needs().stream()
                        .allMatch(need ->
                                need.permission().isEmpty() && need.aspect().endsWith("-list"));
    }

    /** What was an error may become another answer, but not one that says less: an error page must not become none at all. */
    private static Optional<String> worsened(String url, Trace one, Trace other) {
        boolean answered = one.surely(outcome -> outcome.status().isPresent());
        boolean silent = other.possibly(outcome -> outcome.status().isEmpty());
        return answered && silent
                ? Optional.of(url + " answered " + one.outcomes().get(0).said() + ", and then perhaps nothing")
                : Optional.empty();
    }

    /** Where an answer was not certain, and is another now, nothing is proven; the readings that would tell are named. */
    private static void settle(String url, Trace one, Trace other, List<Need> open) {
        List<Need> needs = new ArrayList<>(one.needs());
        other.needs().stream().filter(need -> !needs.contains(need)).forEach(needs::add);
        if (needs.isEmpty()) {
            needs.add(new Need("visit", url, "what answers there is not certain", ""));
        }
        open.addAll(needs);
    }

    private static boolean isSame(Trace one, Trace other) {
        return one.open() == other.open() && one.outcomes().equals(other.outcomes());
    }

    private static boolean isOwnName(Case each) {
        return each.what().equals("CDN's own name") || each.what().equals("edge's own name");
    }

    /** A page, a redirect, or the site's own page for an error. */
    private static boolean isGood(Outcome outcome) {
        return outcome.status().isPresent()
                && (outcome.status().getAsInt() < 400 || outcome.object().isPresent());
    }

    private boolean isAsGood(
            WebAddress address, Outcome before, Outcome after, Following following, AuditContext state) {
        if (after.status().isEmpty()) {
            return false;
        }
        int was = before.status().orElse(0);
        int is = after.status().getAsInt();
        if (was >= 400) {
            // The site's page for an error: the same one, under a status that says that it is one.
            return is >= 400 && is < 500 && after.object().equals(before.object());
        }
        if (before.location().isPresent()) {
            return after.location().isPresent()
                    && secured(before.location().get())
                            .equals(secured(after.location().get()))
                    && !(before.location().get().startsWith("https:")
                            && after.location().get().startsWith("http:"));
        }
        if (after.location().isPresent()) {
            return leadsToSame(address, before, after.location().get(), following, state);
        }
        return is < 300 && after.object().equals(before.object());
    }

    /** From plain HTTP a visitor may be led to the same page over TLS. */
    private static boolean leadsToSame(
            WebAddress address, Outcome before, String location, Following following, AuditContext state) {
        Optional<WebAddress> target = WebAddress.parse(location).address();
        if (address.secure()
                || target.isEmpty()
                || !target.get().secure()
                || !target.get().host().equals(address.host())) {
            return false;
        }
        Trace there = following.trace(Visit.get(target.get(), state.at()));
        return there.isCertain()
                && there.outcomes().get(0).status().equals(before.status())
                && there.outcomes().get(0).object().equals(before.object());
    }

    private static String secured(String location) {
        return location.replaceFirst("^http:", "https:");
    }
}
