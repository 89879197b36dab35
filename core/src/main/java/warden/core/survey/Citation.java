package warden.core.survey;

import java.util.Objects;
import java.util.Optional;
import warden.core.document.JsonPart;

/**
 * Where a fact stands: a line of a file (counted from 1), the aspect and subject of the reading there, and the passage of its document.
 *
 * @param from the description that says so; absent for what an account was asked
 */
public record Citation(String file, int line, String aspect, String subject, Passage passage, Optional<Place> from) {
    public Citation {
        if (line < 1) {
            throw new IllegalArgumentException("lines count from 1, not " + line);
        }
    }

    /**
     * Cites a passage by its own words.
     *
     * @param path the JSON Pointer of the passage
     * @param quote the text of the passage, or its beginning
     */
    public Citation(
            String file, int line, String aspect, String subject, String path, String quote, Optional<Place> from) {
        this(file, line, aspect, subject, Passage.of(path, quote), from);
    }

    /** What no description says. */
    public Citation(String file, int line, String aspect, String subject, String path, String quote) {
        this(file, line, aspect, subject, path, quote, Optional.empty());
    }

    /** Returns the JSON Pointer of the passage within the document; for a policy it starts at the policy's own root. */
    public String path() {
        return passage.path();
    }

    /** Returns a short quotation. */
    public String quote() {
        return passage.quote();
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
        return new Citation(file, line, aspect, subject, Passage.of(part), from);
    }

    /** Returns the same reading, cited at another place. */
    public Citation at(String otherPath, String otherQuote) {
        return new Citation(file, line, aspect, subject, Passage.of(otherPath, otherQuote), from);
    }

    /** Hashes where the passage stands only: its words need not be spelled for that. */
    @Override
    public int hashCode() {
        return Objects.hash(file, line, subject, path());
    }
}
