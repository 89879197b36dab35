package warden.core.survey;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.document.Json;

/** Writes a survey: a header, then one line a reading, each line complete before the next begins. */
public final class SurveyWriter {
    /** What the header says of a survey that was made of a description. */
    static final String TEMPLATE = "template";

    private final Writer out;

    public SurveyWriter(Writer out) {
        this.out = out;
    }

    /** Returns a whole survey as text. */
    public static String text(SurveyHeader header, List<SurveyLine> lines) {
        StringWriter text = new StringWriter();
        try {
            SurveyWriter writer = new SurveyWriter(text);
            writer.header(header);
            for (SurveyLine line : lines) {
                writer.reading(line);
            }
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return text.toString();
    }

    /** Writes the first line. */
    public void header(SurveyHeader header) throws IOException {
        out.write(Json.text(Json.object(
                        "survey",
                        SurveyHeader.VERSION,
                        "provider",
                        header.provider(),
                        "account",
                        header.account(),
                        "tenant",
                        Optional.of(header.tenant()).filter(tenant -> !tenant.isEmpty()),
                        "takenAt",
                        header.takenAt(),
                        "takenBy",
                        header.takenBy(),
                        "from",
                        header.isOfTemplate() ? Optional.of(TEMPLATE) : Optional.empty(),
                        "scope",
                        header.isPartial() ? Optional.of(Json.object("hosts", header.hosts())) : Optional.empty()))
                + "\n");
    }

    /** Writes one reading. A found document is written as it was read, which must be on a single line. */
    public void reading(SurveyLine line) throws IOException {
        out.write(spelled(line));
        out.flush();
    }

    /** Returns a reading as it is written, with its line's end; safe for use by several threads. */
    public static String spelled(SurveyLine line) {
        return Json.text(Json.object(
                        "aspect",
                        line.aspect(),
                        "of",
                        line.of(),
                        "call",
                        Optional.of(line.call()).filter(call -> !call.isEmpty()),
                        "from",
                        line.from().map(SurveyWriter::place),
                        line.outcome().name().toLowerCase(Locale.ROOT),
                        line.outcome() == SurveyLine.Outcome.ABSENT ? line.body() : new Json.Raw(line.body())))
                + "\n";
    }

    private static Object place(Place from) {
        return Json.object("file", from.file(), "line", from.line(), "address", from.address());
    }
}
