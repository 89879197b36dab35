package warden.core.survey;

import java.io.IOException;
import java.io.Writer;
import java.util.stream.Collectors;
import warden.core.document.JsonSpelling;

/** Writes a survey: a header, then one line a reading, each line complete before the next begins. */
public final class SurveyWriter {
    private final Writer out;

    public SurveyWriter(Writer out) {
        this.out = out;
    }

    /** Writes the first line. */
    public void header(SurveyHeader header) throws IOException {
        out.write("{\"survey\":" + SurveyHeader.VERSION + ",\"provider\":" + JsonSpelling.quoted(header.provider())
                + ",\"account\":"
                + JsonSpelling.quoted(header.account()) + ",\"takenAt\":" + JsonSpelling.quoted(header.takenAt())
                + ",\"takenBy\":"
                + JsonSpelling.quoted(header.takenBy()) + scope(header) + "}\n");
    }

    private static String scope(SurveyHeader header) {
        return header.isPartial()
                ? header.hosts().stream()
                        .map(JsonSpelling::quoted)
                        .collect(Collectors.joining(",", ",\"scope\":{\"hosts\":[", "]}"))
                : "";
    }

    /** Writes one reading. A found document is written as it was read, which must be on a single line. */
    public void reading(SurveyLine line) throws IOException {
        String answer =
                switch (line.outcome()) {
                    case FOUND -> "\"found\":" + line.body();
                    case ABSENT -> "\"absent\":" + JsonSpelling.quoted(line.body());
                    case UNREAD -> "\"unread\":" + line.body();
                };
        String call = line.call().isEmpty() ? "" : "\"call\":" + JsonSpelling.quoted(line.call()) + ",";
        out.write("{\"aspect\":" + JsonSpelling.quoted(line.aspect()) + ",\"of\":" + JsonSpelling.quoted(line.of())
                + "," + call + answer + "}\n");
        out.flush();
    }
}
