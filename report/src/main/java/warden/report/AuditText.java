package warden.report;

import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
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

/**
 * An audit as a terminal shows it: the worst first, three short lines a finding, accounts and sites summed up at the end. Of many alike the
 * first are shown, and how to see the rest.
 */
public final class AuditText {
    private static final String INDENT = "          ";
    private static final String PART = INDENT + "         ";
    private static final int MOST_CITED = 2;
    private static final int SITE = 34;
    private static final int PATTERN = 25;
    private static final String COUNTS = " crit high  med  low  unknown";
    private static final int MOST_ALIKE = 5;
    private static final int MOST_SITES = 40;

    private final Audit audit;
    private final Style style;
    private final boolean full;
    private final StringBuilder out = new StringBuilder();

    private AuditText(Audit audit, Style style, boolean full) {
        this.audit = audit;
        this.style = style;
        this.full = full;
    }

    /**
     * Returns the text.
     *
     * @param full whether every finding, unknown and site is shown, however many there are
     */
    public static String of(Audit audit, Style style, boolean full) {
        AuditText text = new AuditText(audit, style, full);
        text.head();
        text.findings();
        text.unknowns();
        text.waived();
        text.accounts();
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
            line("of " + Lines.account(header) + " in " + Shown.name(header.file()));
        }
        line("");
    }

    private void findings() {
        for (Severity severity : Severity.values()) {
            Map<String, Long> left = new TreeMap<>();
            for (Finding finding : audit.findings()) {
                if (finding.severity() == severity) {
                    long alike = left.merge(finding.card().id(), 1L, Long::sum);
                    if (full || alike <= MOST_ALIKE) {
                        finding(finding);
                    }
                }
            }
            left.values().removeIf(alike -> full || alike <= MOST_ALIKE);
            left.forEach((check, alike) -> line(
                    label(severity) + " " + Lines.wrapped((alike - MOST_ALIKE) + " more [" + check + "]", INDENT)));
            if (!left.isEmpty()) {
                line(INDENT + style.faint("Of many alike the first " + MOST_ALIKE + " are shown; --full shows all."));
                line("");
            }
        }
    }

    private String label(Severity severity) {
        return mark(severity, Lines.column(severity.word().toUpperCase(Locale.ROOT), INDENT.length() - 1));
    }

    private void finding(Finding finding) {
        line(label(finding.severity()) + " "
                + Lines.wrapped(
                        Lines.brief(Lines.said(finding)) + " [" + finding.card().id() + "]", INDENT));
        List<Citation> cited = finding.because().stream().limit(MOST_CITED).toList();
        String because = cited.stream().map(Lines::cite).collect(Collectors.joining("; "));
        int more = finding.because().size() - cited.size();
        line(INDENT
                + style.faint("because  ")
                + Lines.wrapped(because + (more > 0 ? "; and " + more + " more" : ""), PART));
        line(INDENT + style.faint("remedy   ") + Lines.wrapped(Lines.brief(finding.remedy()), PART));
        line("");
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
        Map<String, Integer> alike = new TreeMap<>();
        boolean shortened = false;
        for (MissingReading missing : MissingReading.of(audit)) {
            Need need = missing.need();
            String kind = need.aspect() + " of %d more: " + Lines.brief(need.why());
            if (alike.merge(kind, 1, Integer::sum) > MOST_ALIKE && !full) {
                continue;
            }
            shortened |= missing.hasMany() && !full;
            String checks = full ? String.join(", ", missing.checks()) : missing.someChecks();
            line("unknown   " + Lines.wrapped(Lines.need(need) + " [" + checks + "]", INDENT));
        }
        alike.values().removeIf(times -> full || times <= MOST_ALIKE);
        alike.forEach((kind, times) ->
                line("unknown   " + Lines.wrapped(kind.replace("%d", Integer.toString(times - MOST_ALIKE)), INDENT)));
        if (!alike.isEmpty()) {
            line(INDENT + style.faint("Of many alike the first " + MOST_ALIKE + " are shown; --full shows all."));
        } else if (shortened) {
            line(INDENT + style.faint("--full names all the checks."));
        }
        line("");
    }

    private void waived() {
        for (Audit.IdleWaiver idle : audit.idleWaivers()) {
            line("waiver    "
                    + Lines.wrapped(
                            "The waiver of " + idle.waiver().check() + " for \""
                                    + Lines.brief(idle.waiver().subject()) + "\" " + idle.why()
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
                            Lines.brief(agreed.finding().says()) + " ["
                                    + agreed.finding().card().id() + "] until "
                                    + agreed.waiver().until() + ": "
                                    + Lines.brief(agreed.waiver().reason()),
                            INDENT));
        }
        line("");
    }

    private void accounts() {
        if (audit.setup().estate().accounts().size() < 2) {
            return;
        }
        line(style.strong(Lines.column("Account", SITE) + " " + Lines.column("Sites", PATTERN) + COUNTS));
        for (Audit.AccountSum sum : audit.sumsByAccount()) {
            row(
                    sum.account().map(account -> Shown.name(account.number())).orElse("(no account)"),
                    sum.sites() + (sum.healthy() > 0 ? ", " + sum.healthy() + " healthy" : ""),
                    sum.counts(),
                    sum.unknown(),
                    false);
        }
        line("");
    }

    private void sites() {
        line(style.strong(Lines.column("Site", SITE) + " " + Lines.column("Pattern", PATTERN) + COUNTS));
        ShownSites shown = ShownSites.of(audit, full ? Integer.MAX_VALUE : MOST_SITES);
        for (Site site : shown.sites()) {
            row(
                    Lines.brief(site.name()),
                    site.pattern().map(SitePattern::word).orElse("not known"),
                    audit.counts(Optional.of(site.name())),
                    audit.unknownCount(Optional.of(site.name())),
                    audit.isHealthy(site));
        }
        if (shown.rest() > 0) {
            line(shown.left() + "; --full shows all");
        }
        List<Finding> siteless = audit.findings().stream()
                .filter(finding -> finding.site().isEmpty())
                .toList();
        long open = audit.unknowns().stream()
                .filter(answer -> answer.verdict().site().isEmpty())
                .count();
        if (!siteless.isEmpty() || open > 0) {
            Map<Severity, Long> counts = new EnumMap<>(Severity.class);
            for (Severity severity : Severity.values()) {
                counts.put(
                        severity,
                        siteless.stream()
                                .filter(finding -> finding.severity() == severity)
                                .count());
            }
            row("(no site)", "", counts, open, false);
        }
        line("");
    }

    private void row(String name, String pattern, Map<Severity, Long> counts, long unknown, boolean healthy) {
        StringBuilder cells = new StringBuilder();
        for (Severity severity : Severity.values()) {
            cells.append(cell(counts.get(severity), 5));
        }
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
