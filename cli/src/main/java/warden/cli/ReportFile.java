package warden.cli;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import warden.core.CheckCatalogue;
import warden.core.access.Matrix;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.Judgement;
import warden.core.document.Words;
import warden.report.AuditJson;
import warden.report.HtmlReport;
import warden.report.JunitReport;
import warden.report.MarkdownReport;
import warden.report.SarifReport;

/** A report to write: a format and a file. */
record ReportFile(Format format, Path file) {
    /** The formats, as the option spells them. */
    enum Format {
        json,
        sarif,
        junit,
        markdown,
        html
    }

    /** Reads {@code FORMAT=FILE}. */
    static ReportFile parse(String text) {
        int equals = text.indexOf('=');
        for (Format format : Format.values()) {
            if (equals > 0
                    && equals < text.length() - 1
                    && text.substring(0, equals).equals(format.name())) {
                return new ReportFile(format, Path.of(text.substring(equals + 1)));
            }
        }
        String named = equals > 0 ? text.substring(0, equals) : text;
        List<String> formats = Arrays.stream(Format.values()).map(Format::name).toList();
        throw new InputException(
                ExitCode.WRONG_COMMAND,
                "--report takes FORMAT=FILE, where FORMAT is json, sarif, junit, markdown or html, not \"" + text + "\""
                        + (formats.contains(named)
                                ? ""
                                : Words.perhaps(named, formats).orElse("")));
    }

    /** Writes the report, whole or not at all. */
    void write(Audit audit, Judgement judgement, OutputOptions options) {
        String report =
                switch (format) {
                    case json -> AuditJson.of(audit, judgement);
                    case sarif ->
                        SarifReport.of(
                                audit,
                                CheckCatalogue.all().stream().map(Check::card).toList(),
                                Main.VERSION);
                    case junit -> JunitReport.of(audit, judgement);
                    case markdown -> MarkdownReport.of(audit, judgement);
                    case html ->
                        HtmlReport.of(
                                audit,
                                judgement,
                                tables(audit),
                                Matrices.closed(audit.context().clouds()),
                                Main.VERSION);
                };
        boolean isJson = format == Format.json || format == Format.sarif;
        TargetFile.write(file, isJson ? options.json(report) : options.text(report), "--report");
    }

    private static List<Matrix> tables(Audit audit) {
        AuditContext context = audit.context();
        boolean all = audit.sites().size() == context.sites().size();
        return Matrices.of(
                context.clouds(),
                context.publishers(),
                store -> all
                        || audit.sites().stream()
                                .anyMatch(site -> site.storeIds().contains(store)));
    }
}
