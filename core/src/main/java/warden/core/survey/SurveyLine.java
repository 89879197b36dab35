package warden.core.survey;

import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * One reading as it stands in the file. The found document is kept as text and parsed when it is asked for, so that a
 * large survey costs little more than its own size.
 *
 * @param line counted from 1
 * @param call the provider's action that was asked, empty when the line does not say
 * @param outcome which of the three answers the line holds
 * @param body the found document's JSON text; the code of absence; or the JSON text of why it is unread
 * @param from the description that says so; absent for what an account was asked
 */
public record SurveyLine(
        String file,
        int line,
        String aspect,
        String of,
        String call,
        Outcome outcome,
        String body,
        Optional<Place> from) {
    /** A reading that an account gave. */
    public SurveyLine(String file, int line, String aspect, String of, String call, Outcome outcome, String body) {
        this(file, line, aspect, of, call, outcome, body, Optional.empty());
    }

    /** The three answers that a line may hold. */
    public enum Outcome {
        FOUND,
        ABSENT,
        UNREAD
    }

    /** Returns the same reading with another body. */
    public SurveyLine with(String otherBody) {
        return new SurveyLine(file, line, aspect, of, call, outcome, otherBody, from);
    }

    /** Returns the same reading as a description says it. */
    public SurveyLine saidAt(Place place) {
        return new SurveyLine(file, line, aspect, of, call, outcome, body, Optional.of(place));
    }

    /** Returns the citation of the whole reading. */
    public Citation citation() {
        return new Citation(file, line, aspect, of, "", body, from);
    }

    /** Parses the found document. The text was checked when the line was read, so it is JSON. */
    public JsonPart document() {
        Optional<JsonPart> root = JsonReader.read(body).root();
        return root.orElseThrow(() -> new IllegalStateException("line " + line + " was read as JSON before"));
    }

    /** Returns the code with which an unread line says why; "unread" when it gives none. */
    public String obstacle() {
        JsonPart reason = document();
        return reason.scalar()
                .or(() -> reason.text("code"))
                .or(() -> reason.text("message"))
                .orElse("unread");
    }
}
