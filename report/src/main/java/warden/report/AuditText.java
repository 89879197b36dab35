package warden.report;

import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.account.Account;
import warden.core.check.Audit;
import warden.core.check.Finding;
import warden.core.check.Severity;
import warden.core.document.Shown;
import warden.core.site.Site;
import warden.core.site.SitePattern;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.SurveyHeader;

/** An audit as a terminal shows it: the worst first, three short lines a finding, the sites summed up at the end. */
public final class AuditText {
    private static final String INDENT = "          ";
    private static final String PART = INDENT + "         ";
    private static final int MOST_CITED = 2;
    private static final int SITE = 34;
    private static final int PATTERN = 25;

    private final Audit audit;
    private final Style style;
    private final StringBuilder out = new StringBuilder();

    private AuditText(Audit audit, Style style) {
        this.audit = audit;
        this.style = style;
    }

    /** Returns the text. */
    public static String of(Audit audit, Style style) {
        AuditText text = new AuditText(audit, style);
        text.head();
        audit.findings().forEach(text::finding);
        text.unknowns();
        text.waived();
        text.sites();
        text.verdict();
        return text.out.toString();
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    private void head() {
        line(style.strong("Audit as of " + audit.setup().at().truncatedTo(ChronoUnit.SECONDS)));
        for (Account account : audit.setup().estate().accounts()) {
            SurveyHeader header = account.survey().header();
            line("of account " + Shown.name(header.account()) + ", surveyed " + Shown.name(header.takenAt()) + " in "
                    + Shown.name(header.file()));
        }
        line("");
    }

    private void finding(Finding finding) {
        String label = Lines.column(finding.severity().word().toUpperCase(Locale.ROOT), INDENT.length() - 1);
        line(mark(finding.severity(), label) + " "
                + Lines.wrapped(
                        Shown.clean(called(finding) + finding.says()) + " ["
                                + finding.card().id() + "]",
                        INDENT));
        List<Citation> cited = finding.because().stream().limit(MOST_CITED).toList();
        String because = cited.stream().map(Lines::cite).collect(Collectors.joining("; "));
        int more = finding.because().size() - cited.size();
        line(INDENT
                + style.faint("because  ")
                + Lines.wrapped(because + (more > 0 ? "; and " + more + " more" : ""), PART));
        line(INDENT + style.faint("remedy   ") + Lines.wrapped(Shown.clean(finding.remedy()), PART));
        line("");
    }

    /** Names the subject before a sentence that does not name it itself. */
    private static String called(Finding finding) {
        String subject = finding.subject();
        String name = subject.startsWith("arn:aws:s3:::")
                ? subject.substring("arn:aws:s3:::".length())
                : subject.startsWith("arn:") || subject.startsWith("hostedzone/")
                        ? subject.substring(subject.lastIndexOf('/') + 1)
                        : subject;
        return finding.says().contains(name) ? "" : name + ": ";
    }

    private String mark(Severity severity, String text) {
        return switch (severity) {
            case CRITICAL -> style.alarm(text);
            case HIGH -> style.warning(text);
            case MEDIUM -> style.notice(text);
            case LOW -> text;
        };
    }

    private void unknowns() {
        if (audit.unknowns().isEmpty()) {
            return;
        }
        line(style.strong("Not known: " + count(audit.unknowns().size(), "question") + " could not be answered."));
        Map<Need, List<Audit.UnknownAnswer>> byNeed = audit.unknowns().stream()
                .collect(Collectors.groupingBy(
                        answer -> answer.verdict().needs().get(0), LinkedHashMap::new, Collectors.toList()));
        byNeed.forEach((need, answers) -> {
            String checks = answers.stream()
                    .map(answer -> answer.card().id())
                    .distinct()
                    .collect(Collectors.joining(", "));
            String permission = need.permission().isEmpty() ? "" : "; " + need.permission() + " would settle it";
            line("unknown   "
                    + Lines.wrapped(
                            need.aspect() + " of " + Shown.name(need.of()) + ": " + Shown.clean(need.why()) + permission
                                    + " [" + checks + "]",
                            INDENT));
        });
        line("");
    }

    private void waived() {
        for (Audit.IdleWaiver idle : audit.idleWaivers()) {
            line("waiver    "
                    + Lines.wrapped(
                            "The waiver of " + idle.waiver().check() + " for \""
                                    + Shown.clean(idle.waiver().subject()) + "\" " + idle.why()
                                    + "; take it out of the site file, or correct it.",
                            INDENT));
        }
        if (!audit.idleWaivers().isEmpty()) {
            line("");
        }
        if (audit.waived().isEmpty()) {
            return;
        }
        line(style.strong("Agreed to be left"));
        for (Audit.Waived agreed : audit.waived()) {
            line("waived    "
                    + Lines.wrapped(
                            Shown.clean(agreed.finding().says()) + " ["
                                    + agreed.finding().card().id() + "] until "
                                    + agreed.waiver().until() + ": "
                                    + Shown.clean(agreed.waiver().reason()),
                            INDENT));
        }
        line("");
    }

    private void sites() {
        line(style.strong(
                Lines.column("Site", SITE) + " " + Lines.column("Pattern", PATTERN) + " crit high  med  low  unknown"));
        for (Site site : audit.sites()) {
            row(
                    Shown.clean(site.name()),
                    site.pattern().map(SitePattern::word).orElse("not known"),
                    Optional.of(site.name()),
                    audit.isHealthy(site));
        }
        List<Finding> siteless = audit.findings().stream()
                .filter(finding -> finding.site().isEmpty())
                .toList();
        long open = audit.unknowns().stream()
                .filter(answer -> answer.verdict().site().isEmpty())
                .count();
        if (!siteless.isEmpty() || open > 0) {
            StringBuilder cells = new StringBuilder();
            for (Severity severity : Severity.values()) {
                cells.append(cell(
                        siteless.stream()
                                .filter(finding -> finding.severity() == severity)
                                .count(),
                        5));
            }
            line(Lines.column("(no site)", SITE) + " " + Lines.column("", PATTERN) + cells + cell(open, 9));
        }
        line("");
    }

    private void row(String name, String pattern, Optional<String> site, boolean healthy) {
        Map<Severity, Long> counts = audit.counts(site);
        StringBuilder cells = new StringBuilder();
        for (Severity severity : Severity.values()) {
            cells.append(cell(counts.get(severity), 5));
        }
        long unknown = audit.unknownCount(site);
        line(Lines.column(name, SITE) + " " + Lines.column(pattern, PATTERN) + cells + cell(unknown, 9)
                + (healthy ? style.good("  healthy") : ""));
    }

    private static String cell(long count, int width) {
        String digits = count == 0 ? "-" : Long.toString(count);
        return " ".repeat(width - digits.length()) + digits;
    }

    private void verdict() {
        List<String> parts = new ArrayList<>();
        audit.counts(Optional.empty()).forEach((severity, count) -> {
            if (count > 0) {
                parts.add(count + " " + severity.word());
            }
        });
        String findings = parts.isEmpty()
                ? "No findings"
                : count(audit.findings().size(), "finding") + ": " + String.join(", ", parts);
        String unknown =
                audit.unknowns().isEmpty() ? "" : "; " + count(audit.unknowns().size(), "question") + " not answered";
        line(style.strong(findings + unknown + "."));
        if (!audit.findings().isEmpty()) {
            line("Start at the top. \"gentle-warden checks "
                    + audit.findings().get(0).card().id() + "\" tells more about the first.");
        }
    }

    private static String count(int count, String noun) {
        return count + " " + noun + (count == 1 ? "" : "s");
    }
}
