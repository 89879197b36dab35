package warden.gather.live;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import warden.core.document.Json;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyWriter;

/** Writes each reading as it comes, and keeps count. Safe for use by several threads. */
public final class ReadingLog {
    /** What is told of the progress: how many readings of how many that are known to be due. */
    public interface Progress {
        void at(int done, int due);
    }

    /** The code of what was not asked because of a limit. */
    public static final String NOT_ASKED = "NotAsked";

    private final SurveyWriter writer;
    private final Set<String> known;
    private final Progress progress;
    private final List<SurveyLine> refused = new ArrayList<>();

    private int done;
    private int due;

    /**
     * Makes ready.
     *
     * @param known what an interrupted survey has already, as aspect, space and subject; it is not asked again
     */
    public ReadingLog(Writer out, Set<String> known, Progress progress) {
        this.writer = new SurveyWriter(out);
        this.known = new HashSet<>(known);
        this.progress = progress;
    }

    /** Writes the first line. */
    public void header(SurveyHeader header) throws IOException {
        writer.header(header);
    }

    /** True for what an interrupted survey has already. */
    public synchronized boolean isKnown(String aspect, String of) {
        return known.contains(aspect + " " + of);
    }

    /** Says that so many readings more will come, each by {@link #write}. */
    public synchronized void expect(int more) {
        due += more;
        progress.at(done, due);
    }

    /** Returns what could not be read. */
    public synchronized List<SurveyLine> refused() {
        return List.copyOf(refused);
    }

    public synchronized int count() {
        return done;
    }

    /** Returns a line that says why something is not known. */
    public static SurveyLine unread(String aspect, String of, String call, String code, String message) {
        String plain = message.length() > 300 ? message.substring(0, 300) + "…" : message;
        return new SurveyLine(
                "",
                1,
                aspect,
                of,
                call,
                SurveyLine.Outcome.UNREAD,
                Json.text(Json.object("code", code, "message", plain)));
    }

    public void found(String aspect, String of, String call, String body) {
        keep(List.of(new SurveyLine("", 1, aspect, of, call, SurveyLine.Outcome.FOUND, body)));
    }

    /**
     * Writes what was asked for its own sake or for what it leads to, unless it is known already. Pages of one listing stand together, so
     * that each continues the one before.
     */
    public synchronized void keep(List<SurveyLine> pages) {
        SurveyLine first = pages.get(0);
        if (!isKnown(first.aspect(), first.of())) {
            expect(pages.size());
            pages.forEach(this::write);
        }
    }

    /** Writes the answer to one question that was {@link #expect}ed. */
    public synchronized void write(SurveyLine line) {
        try {
            writer.reading(line);
        } catch (IOException full) {
            throw new UncheckedIOException(full);
        }
        if (line.outcome() == SurveyLine.Outcome.UNREAD) {
            refused.add(line);
        }
        done++;
        progress.at(done, due);
    }
}
