package warden.core.survey;

import java.io.IOException;
import java.io.Writer;
import tools.jackson.core.io.JsonStringEncoder;

/** Writes a survey: a header, then one line a reading, each line complete before the next begins. */
public final class SurveyWriter {
    private final Writer out;

    public SurveyWriter(Writer out) {
        this.out = out;
    }

    /** Writes the first line. */
    public void header(SurveyHeader header) throws IOException {
        out.write("{\"survey\":" + SurveyHeader.VERSION + ",\"provider\":" + quoted(header.provider()) + ",\"account\":"
                + quoted(header.account()) + ",\"takenAt\":" + quoted(header.takenAt()) + ",\"takenBy\":"
                + quoted(header.takenBy()) + "}\n");
    }

    /** Writes one reading. A found document is written as it was read, which must be on a single line. */
    public void reading(SurveyLine line) throws IOException {
        String answer =
                switch (line.outcome()) {
                    case FOUND -> "\"found\":" + line.body();
                    case ABSENT -> "\"absent\":" + quoted(line.body());
                    case UNREAD -> "\"unread\":" + line.body();
                };
        String call = line.call().isEmpty() ? "" : "\"call\":" + quoted(line.call()) + ",";
        out.write(
                "{\"aspect\":" + quoted(line.aspect()) + ",\"of\":" + quoted(line.of()) + "," + call + answer + "}\n");
        out.flush();
    }

    private static String quoted(String text) {
        return "\"" + new String(JsonStringEncoder.getInstance().quoteAsCharArray(text)) + "\"";
    }
}
