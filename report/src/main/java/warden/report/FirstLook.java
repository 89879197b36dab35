package warden.report;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;

/**
 * The worst findings in the groups that a person thinks in, a line each; many of one check are one line.
 *
 * @param left says how many findings, and how bad, no line tells; empty when all are told
 */
record FirstLook(List<Group> groups, String left) {
    private static final int FEW = 2;

    FirstLook {
        groups = List.copyOf(groups);
    }

    /** Findings under one heading. */
    record Group(Consequence.Group heading, List<Entry> entries) {
        Group {
            entries = List.copyOf(entries);
        }
    }

    /**
     * A line of a group: one finding, or many of one check.
     *
     * @param number the place of the first among the audit's findings, counted from 1
     * @param name the site, or what else it is about
     * @param detail the rest of the line
     */
    record Entry(int number, List<Finding> findings, Consequence consequence, String name, String detail) {
        Finding first() {
            return findings.get(0);
        }
    }

    /**
     * Returns the first look.
     *
     * @param room how many lines there are, headings and the line that says what is left among them
     */
    static FirstLook of(Audit audit, Names names, int room) {
        Map<Consequence.Group, List<Entry>> groups = new EnumMap<>(Consequence.Group.class);
        // Findings are told apart by their place, not by what they say.
        Set<Finding> told = Collections.newSetFromMap(new IdentityHashMap<>());
        int used = 0;
        for (Entry entry : entries(audit, names)) {
            int more = groups.containsKey(entry.consequence().group()) ? 1 : 2;
            boolean isLast =
                    told.size() + entry.findings().size() == audit.findings().size();
            if (used + more > (isLast ? room : room - 1)) {
                break;
            }
            groups.computeIfAbsent(entry.consequence().group(), key -> new ArrayList<>())
                    .add(entry);
            told.addAll(entry.findings());
            used += more;
        }
        Map<Severity, Long> left = audit.findings().stream()
                .filter(finding -> !told.contains(finding))
                .collect(Collectors.groupingBy(Finding::severity, TreeMap::new, Collectors.counting()));
        return new FirstLook(
                groups.entrySet().stream()
                        .map(group -> new Group(group.getKey(), group.getValue()))
                        .toList(),
                left.isEmpty()
                        ? ""
                        : "and " + (audit.findings().size() - told.size()) + " more: " + Lines.counts(left));
    }

    /** Findings of one check are told once when they are more than a few, or when there are several accounts. */
    private static List<Entry> entries(Audit audit, Names names) {
        boolean manyAccounts = audit.context().accounts().size() > 1;
        Map<String, List<Integer>> alike = new LinkedHashMap<>();
        List<Finding> all = audit.findings();
        for (int i = 0; i < all.size(); i++) {
            Finding finding = all.get(i);
            alike.computeIfAbsent(finding.severity() + " " + finding.card().id(), key -> new ArrayList<>())
                    .add(i);
        }
        List<Entry> entries = new ArrayList<>();
        for (List<Integer> places : alike.values()) {
            if (places.size() > FEW || (manyAccounts && places.size() > 1)) {
                List<Finding> findings = places.stream().map(all::get).toList();
                entries.add(entry(places.get(0), findings, names, many(findings, manyAccounts)));
            } else {
                places.forEach(place -> {
                    Finding finding = all.get(place);
                    entries.add(entry(place, List.of(finding), names, one(finding, names)));
                });
            }
        }
        entries.sort(Comparator.comparingInt(Entry::number));
        return entries;
    }

    private static Entry entry(int place, List<Finding> findings, Names names, String detail) {
        Finding first = findings.get(0);
        return new Entry(place + 1, findings, Consequence.of(first.card().id()), name(first, names), detail);
    }

    private static String name(Finding finding, Names names) {
        return finding.site().map(Lines::brief).orElseGet(() -> names.brief(finding.subject()));
    }

    private static String many(List<Finding> findings, boolean manyAccounts) {
        long sites = findings.stream()
                .map(finding -> finding.site().orElse(finding.subject()))
                .distinct()
                .count();
        long surveys = findings.stream()
                .map(finding -> finding.because().get(0).file())
                .distinct()
                .count();
        return "and " + (findings.size() - 1) + " more, "
                + (sites > 1 ? "on " + sites + " sites" : "here")
                + (manyAccounts ? " in " + Lines.count(surveys, "account") : "")
                + ": " + findings.get(0).card().summary();
    }

    /** Returns what the finding says without the name that stands before it already. */
    private static String one(Finding finding, Names names) {
        String name = name(finding, names);
        String subject = names.of(finding.subject());
        String says = Lines.brief(names.said(finding)).replace(" publishes " + name + " and ", " ");
        return Stream.of(name + ": ", subject + ": ", name + " ")
                .filter(lead -> lead.startsWith(name) && says.startsWith(lead))
                .findFirst()
                .map(lead -> says.substring(lead.length()))
                .orElse(says);
    }
}
