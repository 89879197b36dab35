package warden.report;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.audit.AccountSum;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;

/** An audit as a comment on a change: the verdict, the worst, and the rest folded away. */
public final class MarkdownReport {
    private static final int MOST_SHOWN = 10;
    private static final int MOST_SITES = 40;
    /** Hosts refuse longer comments: the largest of them takes 65,536 characters. */
    private static final int LONGEST = 60_000;

    private final Audit audit;
    private final Judgement judgement;
    private final Names names;
    private final StringBuilder out = new StringBuilder();

    private MarkdownReport(Audit audit, Judgement judgement) {
        this.audit = audit;
        this.judgement = judgement;
        this.names = new Names(audit.context().clouds());
    }

    /** Returns the text, in the dialect that hosts of repositories render. */
    public static String of(Audit audit, Judgement judgement) {
        MarkdownReport report = new MarkdownReport(audit, judgement);
        report.verdict();
        report.accounts();
        report.sites();
        report.findings();
        report.unknowns();
        report.waived();
        return report.out.toString();
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    private void verdict() {
        String counts = Lines.counts(audit.counts(Optional.empty()));
        line("## Gentle Warden: " + Headline.of(audit).words());
        line("");
        line((counts.isEmpty() ? "No findings" : counts)
                + (audit.unknowns().isEmpty() ? "" : ", **" + audit.unknowns().size() + " unknown**")
                + ", as of " + audit.context().at() + "; " + GateWords.of(judgement) + ".");
        for (SurveyedAccount account : audit.context().accounts()) {
            Age.of(account.survey().header(), audit.context().at())
                    .filter(Age::isStale)
                    .ifPresent(age -> line("The survey "
                            + escaped(account.survey().header().file()) + " was taken " + age.spelled() + "."));
        }
        judgement.since().ifPresent(since -> line(escaped(AuditText.since(audit, since))));
        line("");
    }

    private void accounts() {
        if (audit.context().accounts().size() < 2) {
            return;
        }
        line("| account | sites | critical | high | medium | low | unknown |");
        line("|---|--:|--:|--:|--:|--:|--:|");
        for (AccountSum sum : AccountSum.of(audit)) {
            line("| " + sum.account().map(account -> escaped(account.number())).orElse("(none)") + " | "
                    + dash(sum.sites()) + " | " + cells(sum.counts(), sum.unknown()));
        }
        line("");
    }

    private static String cells(Map<Severity, Long> counts, long unknown) {
        return Arrays.stream(Severity.values())
                        .map(severity -> dash(counts.get(severity)))
                        .collect(Collectors.joining(" | "))
                + " | " + dash(unknown) + " |";
    }

    private void sites() {
        line("| site | pattern | critical | high | medium | low | unknown |");
        line("|---|---|--:|--:|--:|--:|--:|");
        SumTable table = SumTable.of(audit, MOST_SITES);
        for (SumTable.Row row : table.rows()) {
            String word = row.word().isEmpty() ? "" : ", " + row.word();
            line("| " + escaped(row.name()) + " | " + row.about() + word + " | " + cells(row.counts(), row.unknown()));
        }
        line("");
        if (!table.left().isEmpty()) {
            line(table.left() + ".");
            line("");
        }
    }

    private static String dash(long count) {
        return count == 0 ? "–" : String.valueOf(count);
    }

    private void findings() {
        List<Finding> all = audit.findings();
        all.stream().limit(MOST_SHOWN).forEach(this::finding);
        if (all.size() > MOST_SHOWN) {
            line("<details><summary>" + (all.size() - MOST_SHOWN) + " more findings</summary>");
            line("");
            int shown = MOST_SHOWN;
            while (shown < all.size() && out.length() < LONGEST) {
                finding(all.get(shown++));
            }
            line("");
            if (shown < all.size()) {
                line((all.size() - shown) + " of them are left out here; the JSON report has them all.");
                line("");
            }
            line("</details>");
            line("");
        }
    }

    private void finding(Finding finding) {
        line("- **" + finding.severity().word().toUpperCase(java.util.Locale.ROOT) + "** `"
                + finding.card().id() + "` " + escaped(names.said(finding)) + mark(finding) + "  ");
        line("  because "
                + finding.because().stream()
                        .limit(2)
                        .map(at -> code(Lines.cite(at)))
                        .collect(Collectors.joining(", ")) + "  ");
        line("  remedy: " + escaped(finding.remedy()));
    }

    private String mark(Finding finding) {
        return judgement.isNew(finding) ? " **(new)**" : "";
    }

    private void unknowns() {
        if (audit.unknowns().isEmpty()) {
            return;
        }
        line("");
        line("### Unknown");
        line("");
        List<MissingReading> missing = MissingReading.of(audit);
        missing.stream().limit(MOST_SHOWN).forEach(reading -> {
            Need need = reading.need();
            line("- " + escaped(need.aspect() + " of " + need.of() + ": " + need.why())
                    + (need.permission().isEmpty() ? "" : "; " + code(need.permission()) + " would tell") + ": "
                    + reading.someChecks());
        });
        if (missing.size() > MOST_SHOWN) {
            line("- and " + (missing.size() - MOST_SHOWN) + " readings more");
        }
        line("");
        NotTold notTold = new NotTold(audit, names);
        line(escaped(notTold.what()) + ".");
        if (!notTold.statement().isEmpty()) {
            line("This statement would allow to read it:");
            line("");
            line("```json");
            line(notTold.statement());
            line("```");
        }
    }

    private void waived() {
        int count = audit.waived().size() + audit.waivedUnknowns().size();
        if (count > 0) {
            line("");
            line(count + (count == 1 ? " finding or question is" : " findings or questions are") + " waived: "
                    + Stream.concat(
                                    audit.waived().stream()
                                            .map(agreed ->
                                                    code(agreed.finding().card().id()) + " until "
                                                            + agreed.waiver().until()),
                                    audit.waivedUnknowns().stream()
                                            .map(agreed ->
                                                    code(agreed.answer().card().id()) + " until "
                                                            + agreed.waiver().until()))
                            .distinct()
                            .collect(Collectors.joining(", "))
                    + ".");
        }
    }

    /** What a name holds is shown as it is: nothing in it is markup, a link or a mention. */
    static String escaped(String text) {
        StringBuilder escaped = new StringBuilder();
        Lines.brief(text).codePoints().forEach(c -> {
            if (c == '<' || c == '>' || c == '&') {
                escaped.append(c == '<' ? "&lt;" : c == '>' ? "&gt;" : "&amp;");
            } else if (c == '@') {
                // A comment parts it from the name behind it, which hosts of repositories would tell else.
                escaped.append("@<!-- -->");
            } else if ("\\`*_{}[]()#+!|~".indexOf(c) >= 0) {
                escaped.append('\\').appendCodePoint(c);
            } else {
                escaped.appendCodePoint(c);
            }
        });
        return escaped.toString()
                .replaceAll("\\\\#(?=[0-9])", "#<!-- -->")
                .replace("://", "\\://")
                .replaceAll("(?i)(www)\\.", "$1\\\\.");
    }

    static String code(String text) {
        return "`" + Lines.brief(text).replace('`', '\'').replace("|", "¦") + "`";
    }
}
