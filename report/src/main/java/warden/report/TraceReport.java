package warden.report;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import warden.core.document.DisplayText;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.trace.Outcome;
import warden.core.trace.Step;
import warden.core.trace.Trace;

/** A traced request as text, like an explanation to a colleague, and as JSON after {@code docs/schema/trace.schema.json}. */
public final class TraceReport {
    private static final String INDENT = " ".repeat(11);
    private static final int WHAT = 17;
    private static final int GOT = 34;

    private TraceReport() {}

    /**
     * What a real request brought back.
     *
     * @param failure the word for why no HTTP answer came; absent when one came
     * @param shown further things to show, by name: headers that matter, the certificate
     */
    public record Observed(
            OptionalInt status,
            Optional<String> location,
            Optional<String> failure,
            boolean differs,
            Map<String, String> shown) {}

    /** Returns the text. */
    public static String text(String url, Trace trace, Optional<Observed> observed, Style style) {
        StringBuilder out = new StringBuilder();
        out.append(style.strong(DisplayText.name(url))).append('\n');
        trace.notes()
                .forEach(note -> out.append(INDENT).append(style.faint(note)).append('\n'));
        for (Step step : trace.steps()) {
            String mark = step.decides() ? "-> " : "   ";
            String line =
                    mark + Lines.column(step.at().word(), 8) + Lines.wrapped(Lines.brief(step.says()), INDENT, style);
            out.append(step.decides() ? style.strong(line) : line).append('\n');
            String cited = cite(step.because());
            if (!cited.isEmpty()) {
                out.append(INDENT)
                        .append(style.faint(Lines.wrapped(cited, INDENT, style)))
                        .append('\n');
            }
        }
        if (!trace.remedy().isEmpty()) {
            out.append("   remedy  ")
                    .append(Lines.wrapped(Lines.brief(trace.remedy()), INDENT, style))
                    .append('\n');
        }
        for (Need need : trace.isCertain() ? List.<Need>of() : trace.needs()) {
            String permission = need.permission().isEmpty() ? "" : " (" + need.permission() + ")";
            out.append("   unknown ")
                    .append(Lines.wrapped(
                            need.aspect() + " of " + DisplayText.name(need.of()) + ": " + Lines.brief(need.why())
                                    + permission,
                            INDENT,
                            style))
                    .append('\n');
        }
        observed.ifPresent(seen -> {
            out.append(seen.differs() ? style.warning("   seen    ") : "   seen    ")
                    .append(Lines.wrapped(
                            spelled(seen) + (seen.differs() ? ": this differs." : ", as predicted."), INDENT, style))
                    .append('\n');
            seen.shown().forEach((name, value) -> out.append(INDENT)
                    .append(style.faint(Lines.wrapped(name + ": " + DisplayText.name(value), INDENT, style)))
                    .append('\n'));
        });
        return out.append('\n').toString();
    }

    private static String spelled(Observed seen) {
        return seen.failure()
                .orElseGet(() -> seen.status().orElse(0)
                        + seen.location()
                                .map(to -> " to " + DisplayText.name(to))
                                .orElse(""));
    }

    private static String cite(List<Citation> because) {
        return String.join("; ", because.stream().map(Lines::cite).toList());
    }

    /** Returns the JSON of one trace, or of several as a list under "traces". */
    public static String json(List<String> urls, List<Trace> traces, List<Optional<Observed>> observed) {
        if (traces.size() == 1) {
            return Json.document(json -> trace(json, urls.get(0), traces.get(0), observed.get(0)));
        }
        List<Integer> numbers =
                java.util.stream.IntStream.range(0, traces.size()).boxed().toList();
        return Json.document(
                json -> json.objects("traces", numbers, i -> trace(json, urls.get(i), traces.get(i), observed.get(i))));
    }

    private static void trace(Json json, String url, Trace trace, Optional<Observed> observed) {
        json.text("url", url);
        json.objects("steps", trace.steps(), step -> json.text("at", step.at().word())
                .text("says", step.says())
                .because(step.because()));
        json.object("outcome", () -> {
            Outcome outcome = trace.isCertain() ? trace.outcomes().get(0) : Outcome.notKnown();
            outcome(json, outcome);
            json.truth("certain", trace.isCertain());
            if (!trace.isCertain()) {
                json.objects("alternatives", trace.outcomes(), each -> outcome(json, each));
                json.truth("allAlternatives", !trace.open());
            }
        });
        json.text("why", trace.why()).text("remedy", trace.remedy());
        if (!trace.isCertain()) {
            json.objects("needs", trace.needs(), need -> json.text("aspect", need.aspect())
                    .text("of", need.of())
                    .text("why", need.why())
                    .text("permission", need.permission()));
        }
        observed.ifPresent(seen -> json.object("observed", () -> {
                    json.number("status", seen.status()).text("location", seen.location());
                    seen.failure().ifPresent(word -> json.text("failure", word));
                })
                .truth("differs", seen.differs()));
    }

    private static void outcome(Json json, Outcome outcome) {
        json.number("status", outcome.status()).text("object", outcome.object()).text("location", outcome.location());
        outcome.contentType().ifPresent(type -> json.text("contentType", type));
        outcome.failure().ifPresent(failure -> json.text("failure", failure.word()));
    }

    /** Returns a table of many traces: what was asked, what comes of it, why. A line that a stranger should not get is marked. */
    public static String table(List<Row> rows, Style style) {
        StringBuilder out = new StringBuilder();
        out.append(style.strong("  " + Lines.column("What", WHAT) + Lines.column("Visitors get", GOT) + "Address"))
                .append('\n');
        for (Row row : rows) {
            String line = (row.alarming() ? "! " : "  ")
                    + Lines.column(row.what(), WHAT)
                    + Lines.column(DisplayText.clean(brief(row.trace())), GOT - 1)
                    + " "
                    + DisplayText.name(row.url());
            out.append(row.alarming() ? style.warning(line) : line).append('\n');
            if (needsReason(row)) {
                out.append("    ")
                        .append(style.faint(
                                Lines.wrapped(Lines.brief(row.trace().why()), "    ", style)))
                        .append('\n');
            }
        }
        return out.append('\n').toString();
    }

    /** What visitors should get, and cannot, wants a reason; that direct ways are closed does not. */
    private static boolean needsReason(Row row) {
        boolean page = row.what().equals("front page")
                || row.what().equals("folder")
                || row.what().equals("plain HTTP");
        return !row.trace().isCertain() || (page && row.trace().surely(Outcome::isError));
    }

    private static String brief(Trace trace) {
        String all = String.join(
                " or ",
                trace.outcomes().stream().map(TraceReport::brief).distinct().toList());
        return trace.isCertain() ? all : "not certain" + (all.isEmpty() ? "" : ": " + all);
    }

    private static String brief(Outcome outcome) {
        Optional<String> object = outcome.key();
        return outcome.failure().isPresent() || object.isEmpty()
                ? outcome.said()
                : outcome.status().orElse(0) + " " + object.get();
    }

    /** One line of the table. */
    public record Row(String what, String url, Trace trace, boolean alarming) {}
}
