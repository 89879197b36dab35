package warden.core.survey;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import warden.core.document.JsonPart;
import warden.core.survey.SurveyLine.Outcome;

/**
 * All readings of one survey, by aspect and subject. Of several lines for the same aspect and subject the last counts,
 * save that a page follows a page which said that more would come.
 */
public final class Survey {
    /** So many changes are looked through one by one before they are written out. */
    private static final int MOST_CHANGES = 8;

    private final SurveyHeader header;
    private final Aspects aspects;
    private final Map<String, Map<String, List<SurveyLine>>> byAspect;
    /** What takes the place of lines, by aspect and subject; no lines where nothing was read. Few. */
    private final Map<String, Map<String, List<SurveyLine>>> changes;

    private final int changed;
    private final Map<String, Map<String, List<String>>> byFolder = new ConcurrentHashMap<>();
    private final Map<String, Optional<Need>> unlisted = new ConcurrentHashMap<>();

    private Survey(SurveyHeader header, Aspects aspects, Map<String, Map<String, List<SurveyLine>>> byAspect) {
        this(header, aspects, byAspect, Map.of(), 0);
    }

    private Survey(
            SurveyHeader header,
            Aspects aspects,
            Map<String, Map<String, List<SurveyLine>>> byAspect,
            Map<String, Map<String, List<SurveyLine>>> changes,
            int changed) {
        this.header = header;
        this.aspects = aspects;
        this.byAspect = byAspect;
        this.changes = changes;
        this.changed = changed;
    }

    /** Collects lines while a survey is read. */
    public static final class Collector {
        private final Aspects aspects;
        private final Map<String, Map<String, List<SurveyLine>>> byAspect = new HashMap<>();

        public Collector(Aspects aspects) {
            this.aspects = aspects;
        }

        /** Adds the next line of the file. */
        public void add(SurveyLine line) {
            Map<String, List<SurveyLine>> subjects =
                    byAspect.computeIfAbsent(line.aspect(), aspect -> new LinkedHashMap<>());
            List<SurveyLine> pages = subjects.get(line.of());
            if (pages != null && aspects.saysMoreFollows(pages.get(pages.size() - 1))) {
                pages.add(line);
                return;
            }
            List<SurveyLine> fresh = new ArrayList<>(1);
            fresh.add(line);
            subjects.put(line.of(), fresh);
        }

        /** Closes the collection. */
        public Survey toSurvey(SurveyHeader header) {
            return new Survey(header, aspects, byAspect);
        }
    }

    /**
     * The pages of one listing.
     *
     * @param pages the pages that were found, in order
     * @param complete true when the last page said that nothing follows
     */
    public record Listing(List<Reading.Found<JsonPart>> pages, boolean complete) {
        public Listing {
            pages = List.copyOf(pages);
        }
    }

    /** Returns a survey in which this line takes the place of what was read of its aspect and subject. */
    public Survey with(SurveyLine line) {
        return changed(line.aspect(), line.of(), List.of(line));
    }

    /** Returns a survey in which nothing was read of an aspect and subject. */
    public Survey without(String aspect, String of) {
        return asked(aspect, of) ? changed(aspect, of, List.of()) : this;
    }

    /** Lies over this one, which stays as it is; proofs try thousands of changes, and copying all lines for each would take longest. */
    private Survey changed(String aspect, String of, List<SurveyLine> lines) {
        Map<String, Map<String, List<SurveyLine>>> more = new HashMap<>(changes);
        Map<String, List<SurveyLine>> subjects = new LinkedHashMap<>(changes.getOrDefault(aspect, Map.of()));
        subjects.put(of, lines);
        more.put(aspect, subjects);
        Survey over = new Survey(header, aspects, byAspect, more, changed + 1);
        return changed < MOST_CHANGES ? over : over.writtenOut();
    }

    private Survey writtenOut() {
        Map<String, Map<String, List<SurveyLine>>> all = new HashMap<>(byAspect);
        changes.forEach((aspect, lines) -> {
            Map<String, List<SurveyLine>> subjects = new LinkedHashMap<>();
            subjects(aspect).forEach(of -> subjects.put(of, lines(aspect, of)));
            all.put(aspect, subjects);
        });
        return new Survey(header, aspects, all);
    }

    /** Returns the lines about an aspect and a subject; none where nothing was read. */
    private List<SurveyLine> lines(String aspect, String of) {
        List<SurveyLine> instead = changes.getOrDefault(aspect, Map.of()).get(of);
        return instead != null
                ? instead
                : byAspect.getOrDefault(aspect, Map.of()).getOrDefault(of, List.of());
    }

    /** Returns every line that counts, by aspect and subject in the order of the alphabet, pages in theirs. */
    public List<SurveyLine> lines() {
        Set<String> all = new TreeSet<>(byAspect.keySet());
        all.addAll(changes.keySet());
        List<SurveyLine> lines = new ArrayList<>();
        for (String aspect : all) {
            for (String of : new TreeSet<>(subjects(aspect))) {
                lines.addAll(lines(aspect, of));
            }
        }
        return lines;
    }

    public SurveyHeader header() {
        return header;
    }

    /** Returns the table of the aspects that it may hold. */
    public Aspects aspects() {
        return aspects;
    }

    /** Returns the subjects of which this aspect was asked, in the order of the file. */
    public Collection<String> subjects(String aspect) {
        Map<String, List<SurveyLine>> read = byAspect.getOrDefault(aspect, Map.of());
        Map<String, List<SurveyLine>> instead = changes.getOrDefault(aspect, Map.of());
        boolean same = instead.entrySet().stream()
                .allMatch(change ->
                        read.containsKey(change.getKey()) && !change.getValue().isEmpty());
        if (same) {
            return read.keySet();
        }
        Set<String> subjects = new LinkedHashSet<>(read.keySet());
        instead.forEach((of, lines) -> {
            if (lines.isEmpty()) {
                subjects.remove(of);
            } else {
                subjects.add(of);
            }
        });
        return subjects;
    }

    /**
     * Returns what follows {@code parent} and a slash in the subjects of an aspect, in the order of the file: the keys of a bucket's objects.
     *
     * @param parent without a slash in it
     */
    public List<String> subjectsBelow(String aspect, String parent) {
        return byFolder.computeIfAbsent(aspect, key -> {
                    Map<String, List<String>> below = new HashMap<>();
                    for (String of : subjects(key)) {
                        int slash = of.indexOf('/');
                        if (slash >= 0) {
                            below.computeIfAbsent(of.substring(0, slash), name -> new ArrayList<>())
                                    .add(of.substring(slash + 1));
                        }
                    }
                    return below;
                })
                .getOrDefault(parent, List.of());
    }

    /**
     * True for what should have been read: what a line asks for, and what a survey of a whole account asks for in any case. A survey that
     * follows some hosts only may leave out the rest.
     */
    public boolean isWanted(String aspect, String of) {
        return !header.isPartial() || asked(aspect, of);
    }

    /** True when the survey has a line for this, whatever it says. */
    public boolean asked(String aspect, String of) {
        return !lines(aspect, of).isEmpty();
    }

    /**
     * True when the text of an answer passes a test, as it stands in the file. Parses no document: what is only looked for need not be understood.
     */
    public boolean hasText(String aspect, String of, Predicate<String> test) {
        return lines(aspect, of).stream().anyMatch(line -> test.test(line.body()));
    }

    /** Returns the answer to one question; a missing line is unread, "never asked". */
    public Reading<JsonPart> reading(String aspect, String of) {
        List<SurveyLine> lines = lines(aspect, of);
        if (lines.isEmpty()) {
            return new Reading.Unread<>(new Need(aspect, of, "never asked", aspects.permission(aspect)));
        }
        return reading(lines.get(lines.size() - 1));
    }

    /** Returns what would have to be read to answer a question; absent when it was answered. Parses no document. */
    public Optional<Need> missing(String aspect, String of) {
        List<SurveyLine> lines = lines(aspect, of);
        boolean found = !lines.isEmpty() && lines.get(lines.size() - 1).outcome() == Outcome.FOUND;
        return found ? Optional.empty() : reading(aspect, of).missing();
    }

    /** Returns all pages of a listing. Absent stays absent; a first page that is unread makes the whole unread. */
    public Reading<Listing> listing(String aspect, String of) {
        List<SurveyLine> lines = lines(aspect, of);
        if (lines.isEmpty() || lines.get(0).outcome() != Outcome.FOUND) {
            return reading(aspect, of).map(none -> new Listing(List.of(), false));
        }
        List<Reading.Found<JsonPart>> pages = new ArrayList<>();
        for (SurveyLine line : lines) {
            if (line.outcome() == Outcome.FOUND) {
                pages.add(new Reading.Found<>(line.document(), line.citation()));
            }
        }
        SurveyLine last = lines.get(lines.size() - 1);
        boolean complete = last.outcome() == Outcome.FOUND && !aspects.saysMoreFollows(last);
        return new Reading.Found<>(new Listing(pages, complete), lines.get(0).citation());
    }

    /** Returns what keeps a listing from being whole: that it is unread, or cut short; absent when it goes to its end, or there is none. */
    public Optional<Need> unlisted(String aspect, String of) {
        return unlisted.computeIfAbsent(aspect + " " + of, key -> readUnlisted(aspect, of));
    }

    private Optional<Need> readUnlisted(String aspect, String of) {
        Reading<Listing> listing = listing(aspect, of);
        return listing.missing().or(() -> listing.found()
                .filter(pages -> !pages.complete())
                .map(pages -> Need.cutShort(aspect, of, aspects.permission(aspect))));
    }

    private Reading<JsonPart> reading(SurveyLine line) {
        return switch (line.outcome()) {
            case FOUND -> new Reading.Found<>(line.document(), line.citation());
            case ABSENT -> new Reading.Absent<>(line.body(), line.citation());
            case UNREAD ->
                new Reading.Unread<>(new Need(line.aspect(), line.of(), line.obstacle(), aspects.permission(line)));
        };
    }
}
