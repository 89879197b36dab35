package warden.core.trace;

import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import warden.core.document.DisplayText;
import warden.core.document.LatePattern;

/**
 * What a visitor gets.
 *
 * @param status the HTTP status; empty when no HTTP answer comes
 * @param object the identifier of the object whose content is the answer's
 * @param key the name of that object within its store
 * @param contentType what the object is sent as; absent when its metadata were not read
 * @param location where a redirect leads, absolute
 * @param failure why no HTTP answer comes
 */
public record Outcome(
        OptionalInt status,
        Optional<String> object,
        Optional<String> key,
        Optional<String> contentType,
        Optional<String> location,
        Optional<Failure> failure) {
    /** What a browser shows, as far as this is told of by its kind. */
    private static final LatePattern SHOWN = LatePattern.of("\\s*(text/.*|application/xhtml.*|image/.*)");

    /** Returns an answer of which nothing is known. */
    public static Outcome notKnown() {
        return new Outcome(
                OptionalInt.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    /** The ways in which no HTTP answer comes. */
    public enum Failure {
        NAME_NOT_FOUND,
        TLS,
        CANNOT_CONNECT;

        /** Returns the word that outputs use. */
        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    public static Outcome of(int status) {
        return new Outcome(
                OptionalInt.of(status),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    public static Outcome of(int status, String object, String key, Optional<String> contentType) {
        return new Outcome(
                OptionalInt.of(status),
                Optional.of(object),
                Optional.of(key),
                contentType,
                Optional.empty(),
                Optional.empty());
    }

    public static Outcome redirect(int status, String location) {
        return new Outcome(
                OptionalInt.of(status),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.of(location),
                Optional.empty());
    }

    public static Outcome of(Failure failure) {
        return new Outcome(
                OptionalInt.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.of(failure));
    }

    /** Returns the same answer under another status. */
    public Outcome under(int other) {
        return new Outcome(OptionalInt.of(other), object, key, contentType, location, failure);
    }

    /** True when the status is this one. */
    public boolean is(int wanted) {
        return status.isPresent() && status.getAsInt() == wanted;
    }

    /** True when the visitor is shown content with status 200. */
    public boolean isPage() {
        return is(200);
    }

    /** True for statuses from 400 on, and where no HTTP answer comes. */
    public boolean isError() {
        return failure.isPresent() || (status.isPresent() && status.getAsInt() >= 400);
    }

    /** Says it in a few words. */
    public String said() {
        if (failure.isPresent()) {
            return switch (failure.get()) {
                case NAME_NOT_FOUND -> "the name is not found";
                case TLS -> "TLS fails";
                case CANNOT_CONNECT -> "no connection";
            };
        }
        String where = location.map(to -> " to " + to)
                .or(() -> key.map(name -> ", the object " + name))
                .orElse("");
        return (status.isPresent() ? Integer.toString(status.getAsInt()) : "?") + where;
    }

    /**
     * Says as what the object is sent, where a browser would not show it as a page; empty where all is well or the type is not known. Source: S3
     * User Guide, "Working with object metadata".
     */
    public String asWhat() {
        boolean isDocument = key.filter(name -> isPage())
                .filter(name -> name.endsWith(".html")
                        || name.endsWith(".htm")
                        || name.lastIndexOf('.') <= name.lastIndexOf('/'))
                .isPresent();
        return contentType
                .filter(type -> isDocument)
                .filter(type -> !SHOWN.matcher(type.toLowerCase(Locale.ROOT)).matches())
                .map(type -> ", as " + DisplayText.name(type) + ": a browser downloads it")
                .orElse("");
    }
}
