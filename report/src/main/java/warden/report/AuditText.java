package warden.report;

import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import warden.core.audit.AccountSum;
import warden.core.audit.Audit;
import warden.core.audit.Comparison;
import warden.core.audit.Finding;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.document.DisplayText;
import warden.core.site.SiteFile.Waiver;
import warden.core.survey.Need;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyedAccount;

/** An audit as text, whole: every finding with its evidence, the worst first, what is not known, accounts and sites summed up at the end. */
public final class AuditText {
    private static final String INDENT = "          ";
    private static final int SITE = 34;
    private static final int PATTERN = 25;
    private static final String COUNTS = " crit high  med  low  unknown";

    private final Audit audit;
    private final Judgement judgement;
    private final Style style;
    private final Names names;
    private final StringBuilder out = new StringBuilder();

    private AuditText(Audit audit, Judgement judgement, Style style) {
        this.audit = audit;
        this.judgement = judgement;
        this.style = style;
        this.names = new Names(audit.context().clouds());
    }

    /** Returns the text. */
    public static String of(Audit audit, Judgement judgement, Style style) {
        AuditText text = new AuditText(audit, judgement, style);
        text.head();
        text.findings();
        text.leftovers();
        text.unknowns();
        text.waived();
        text.since();
        text.accounts();
        text.sites();
        text.verdict();
        return text.out.toString();
    }

    /**
     * Returns one finding in full.
     *
     * @param number its place among the audit's findings, counted from 1
     */
    public static String finding(Audit audit, int number, Style style) {
        Names names = new Names(audit.context().clouds());
        Finding finding = audit.findings().get(number - 1);
        String file = finding.because().get(0).file();
        String of = audit.context().accounts().size() == 1 ? "in " + DisplayText.name(file) + "\n\n" : "";
        return of + new FindingText(audit, names, style).of(finding, number, "");
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    private void head() {
        line(style.strong("Audit as of " + audit.context().at().truncatedTo(ChronoUnit.SECONDS)));
        for (SurveyedAccount account : audit.context().accounts()) {
            SurveyHeader header = account.survey().header();
            line("of " + Lines.account(header, audit.context().at()) + ", in " + DisplayText.name(header.file()));
        }
        line("");
    }

    private void findings() {
        FindingText full = new FindingText(audit, names, style);
        int number = 0;
        for (Finding finding : audit.findings()) {
            out.append(full.of(finding, ++number, judgement.isNew(finding) ? "(new)" : ""));
        }
    }

    /** What nobody uses is deleted in an order that leaves nothing pointing at what is gone. */
    private void leftovers() {
        List<Finding> leftovers = Leftovers.inOrder(audit);
        if (leftovers.size() < 2) {
            return;
        }
        line(style.strong("Can be deleted, in this order"));
        int place = 1;
        for (Finding finding : leftovers) {
            line(Lines.column(place++ + ".", INDENT.length() - 1) + " "
                    + Lines.wrapped(
                            names.of(finding.subject()) + " [" + finding.card().id() + "]", INDENT, style));
        }
        line("");
    }

    private void unknowns() {
        if (audit.unknowns().isEmpty()) {
            return;
        }
        line(style.strong(
                "Not known: " + Lines.count(audit.unknowns().size(), "question") + " could not be answered."));
        for (MissingReading missing : MissingReading.of(audit)) {
            Need need = missing.need();
            line("unknown   "
                    + Lines.wrapped(
                            Lines.need(need) + " [" + String.join(", ", missing.checks()) + "]", INDENT, style));
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
                            INDENT,
                            style));
        }
        if (!audit.idleWaivers().isEmpty()) {
            line("");
        }
        if (audit.waived().isEmpty() && audit.waivedUnknowns().isEmpty()) {
            return;
        }
        line(style.strong("Agreed to be left"));
        audit.waived()
                .forEach(agreed ->
                        waived(agreed.finding().says(), agreed.finding().card().id(), agreed.waiver()));
        audit.waivedUnknowns()
                .forEach(agreed -> waived(
                        "Not known of " + names.of(agreed.answer().verdict().subject()) + ": "
                                + Lines.need(agreed.answer().verdict().needs().get(0)),
                        agreed.answer().card().id(),
                        agreed.waiver()));
        line("");
    }

    private void waived(String says, String check, Waiver waiver) {
        line("waived    "
                + Lines.wrapped(
                        Lines.brief(says) + " [" + check + "] until " + waiver.until() + ": "
                                + Lines.brief(waiver.reason()),
                        INDENT,
                        style));
    }

    private void since() {
        if (judgement.since().isPresent()) {
            line(Lines.wrapped(since(audit, judgement.since().get()), "", style));
            line("");
        }
    }

    /** Spells what changed against an earlier report. */
    static String since(Audit audit, Comparison since) {
        long fresh = since.countNew(audit.findings());
        return "Since " + DisplayText.name(since.file()) + ": " + fresh + " new, "
                + (audit.findings().size() - fresh)
                + " old, " + since.gone().size() + " gone"
                + (since.unanswered().isEmpty()
                        ? ""
                        : ", " + since.unanswered().size() + " that cannot be told to be gone")
                + ".";
    }

    private void accounts() {
        if (audit.context().accounts().size() < 2) {
            return;
        }
        line(style.strong(Lines.column("Account", SITE) + " " + Lines.column("Sites", PATTERN) + COUNTS));
        for (AccountSum sum : AccountSum.of(audit)) {
            row(new SumTable.Row(
                    sum.account().map(SurveyedAccount::number).orElse("(no account)"),
                    sum.sites() + (sum.healthy() > 0 ? ", " + sum.healthy() + " healthy" : ""),
                    sum.counts(),
                    sum.unknown(),
                    ""));
        }
        line("");
    }

    private void sites() {
        line(style.strong(Lines.column("Site", SITE) + " " + Lines.column("Pattern", PATTERN) + COUNTS));
        SumTable.of(audit, Integer.MAX_VALUE).rows().forEach(this::row);
        line("");
    }

    private void row(SumTable.Row row) {
        StringBuilder cells = new StringBuilder();
        for (Severity severity : Severity.values()) {
            cells.append(cell(row.counts().get(severity), 5));
        }
        line(Lines.column(Lines.brief(row.name()), SITE) + " " + Lines.column(row.about(), PATTERN) + cells
                + cell(row.unknown(), 9)
                + (row.word().isEmpty() ? "" : "  " + style.good(row.word())));
    }

    private static String cell(long count, int width) {
        String digits = count == 0 ? "-" : Long.toString(count);
        return " ".repeat(Math.max(1, width - digits.length())) + digits;
    }

    private void verdict() {
        if (!audit.findings().isEmpty()) {
            line(style.strong(Lines.count(audit.findings().size(), "finding") + ": "
                    + Lines.counts(audit.counts(Optional.empty())) + "."));
        }
        String gate = GateWords.of(judgement);
        String notTold = new NotTold(audit, names).sentence();
        if (audit.findings().isEmpty() && notTold.isEmpty()) {
            line(style.strong("No findings" + (audit.everyCheck() ? "" : " of the checks asked") + "."));
        } else {
            line(Lines.wrapped(gate, "", style));
        }
        if (!notTold.isEmpty()) {
            // The statement is copied whole: it is never broken.
            line(style.strong(notTold));
        }
    }
}
