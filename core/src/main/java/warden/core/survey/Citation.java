package warden.core.survey;

import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;

/**
 * Where a fact stands: a line of a file (counted from 1), the aspect and subject of the reading there, the JSON Pointer
 * within the document, and a short quotation. For a policy the pointer starts at the policy's own root.
 *
 * @param from the description that says so; absent for what an account was asked
 */
public record Citation(
        String file, int line, String aspect, String subject, String path, String quote, Optional<Place> from) {
    private static final int LONGEST_QUOTE = 200;

    public Citation {
        if (line < 1) {
            throw new IllegalArgumentException("lines count from 1, not " + line);
        }
        // No more of a document is counted than can matter: a code point has at most two characters.
        if (quote.length() > LONGEST_QUOTE
                && quote.codePointCount(0, Math.min(quote.length(), 2 * LONGEST_QUOTE + 1)) > LONGEST_QUOTE) {
            quote = quote.substring(0, quote.offsetByCodePoints(0, LONGEST_QUOTE - 1)) + "…";
        }
    }

    /** What no description says. */
    public Citation(String file, int line, String aspect, String subject, String path, String quote) {
        this(file, line, aspect, subject, path, quote, Optional.empty());
    }

    /** Returns the file to open: the description where there is one, else the survey. */
    public String shownFile() {
        return from.map(Place::file).orElse(file);
    }

    /** Returns the line to look at there, counted from 1. */
    public int shownLine() {
        return from.map(Place::line).orElse(line);
    }

    /** Returns a part of the same reading, which is quoted itself. */
    public Citation at(JsonPart part) {
        return at(part.at().toString(), JsonSpelling.start(part, 2 * LONGEST_QUOTE + 1));
    }

    /** Returns the same reading, cited at another place. */
    public Citation at(String otherPath, String otherQuote) {
        return new Citation(file, line, aspect, subject, otherPath, otherQuote, from);
    }
}
