package warden.standin.aws;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.standin.Content;
import warden.standin.Refusal;
import warden.standin.Reply;

/**
 * Conditions and ranges of requests. Source: RFC 9110, sections 13 and 14; S3 API Reference, GetObject, PutObject and CopyObject; S3 User Guide, "How to
 * prevent object overwrites with conditional writes".
 */
final class Preconditions {
    private static final Pattern RANGE = Pattern.compile("bytes=([0-9]{0,18})-([0-9]{0,18})");
    private static final DateTimeFormatter IN_HEADERS = DateTimeFormatter.RFC_1123_DATE_TIME;

    private Preconditions() {}

    /** What a condition is about: the object's tag, and when it was last changed. */
    record Stand(Optional<String> tag, Optional<Instant> modified) {
        static Stand of(Map<String, String> headers) {
            return new Stand(
                    Optional.ofNullable(headers.get("ETag")),
                    Optional.ofNullable(headers.get("Last-Modified")).flatMap(Preconditions::instant));
        }
    }

    /** Returns the answer to a request for a whole object, as its conditions and range make it. */
    static Reply applied(Reply whole, Map<String, String> asked) {
        Stand stand = Stand.of(whole.headers());
        boolean isChanged = isUnmet(stand, name -> Optional.ofNullable(asked.get(name)));
        if (isChanged) {
            throw new Refusal(
                    412, "PreconditionFailed", "At least one of the pre-conditions you specified did not hold");
        }
        if (isUnmodified(stand, asked)) {
            return new Reply(304, whole.headers(), new byte[0]);
        }
        return ranged(whole, stand, asked);
    }

    /** Returns whether what has to hold does not: If-Match, and without it If-Unmodified-Since. */
    static boolean isUnmet(Stand stand, Function<String, Optional<String>> headers) {
        Optional<String> match = headers.apply("if-match");
        if (match.isPresent()) {
            return !names(match.get(), stand.tag());
        }
        return headers.apply("if-unmodified-since")
                .flatMap(Preconditions::instant)
                .flatMap(since -> stand.modified()
                        .map(at -> at.truncatedTo(ChronoUnit.SECONDS).isAfter(since)))
                .orElse(Boolean.FALSE);
    }

    private static boolean isUnmodified(Stand stand, Map<String, String> asked) {
        String none = asked.get("if-none-match");
        if (none != null) {
            return names(none, stand.tag());
        }
        return Optional.ofNullable(asked.get("if-modified-since"))
                .flatMap(Preconditions::instant)
                .flatMap(since -> stand.modified()
                        .map(at -> !at.truncatedTo(ChronoUnit.SECONDS).isAfter(since)))
                .orElse(Boolean.FALSE);
    }

    private static boolean names(String tags, Optional<String> tag) {
        return tags.strip().equals("*")
                ? tag.isPresent()
                : Arrays.stream(tags.split(","))
                        .map(each -> bare(each.strip().replaceFirst("^W/", "")))
                        .anyMatch(each -> tag.map(Preconditions::bare)
                                .filter(each::equals)
                                .isPresent());
    }

    private static String bare(String tag) {
        return tag.replace("\"", "");
    }

    /** Refuses a write whose condition does not hold. */
    static void demandForWriting(Call call, Optional<StoredObject> there) {
        call.header("if-none-match").ifPresent(value -> {
            if (!value.strip().equals("*")) {
                throw new Refusal(
                        501, "NotImplemented", "A header you provided implies functionality that is not implemented");
            }
            if (there.isPresent()) {
                throw new Refusal(
                        412, "PreconditionFailed", "At least one of the pre-conditions you specified did not hold");
            }
        });
        call.header("if-match").ifPresent(tags -> {
            if (there.isEmpty()) {
                throw new Refusal(404, "NoSuchKey", "The specified key does not exist.");
            }
            if (!names(tags, there.get().tag())) {
                throw new Refusal(
                        412, "PreconditionFailed", "At least one of the pre-conditions you specified did not hold");
            }
        });
    }

    /** Refuses a copy of what is not as the request says. */
    static void demandForCopying(Call call, Stand stand) {
        String prefix = "x-amz-copy-source-";
        boolean unmet = isUnmet(stand, name -> call.header(prefix + name));
        boolean unmodified = isUnmodified(
                stand,
                Map.of(
                        "if-none-match",
                        call.header(prefix + "if-none-match").orElse("none"),
                        "if-modified-since",
                        call.header(prefix + "if-modified-since").orElse("")));
        boolean asksForChange = call.header(prefix + "if-none-match").isPresent()
                || call.header(prefix + "if-modified-since").isPresent();
        if (unmet || asksForChange && unmodified) {
            throw new Refusal(
                    412, "PreconditionFailed", "At least one of the pre-conditions you specified did not hold");
        }
    }

    private static Reply ranged(Reply whole, Stand stand, Map<String, String> asked) {
        Matcher range = RANGE.matcher(asked.getOrDefault("range", ""));
        boolean isBlank =
                range.matches() && range.group(1).isEmpty() && range.group(2).isEmpty();
        String condition = asked.get("if-range");
        boolean isStill = condition == null
                || names(condition, stand.tag())
                || instant(condition).isPresent() && instant(condition).equals(stand.modified());
        // What is no range that is understood is left out of account, and so are several.
        if (!range.matches() || isBlank || !isStill) {
            return whole;
        }
        return part(whole, range.group(1), range.group(2));
    }

    private static Reply part(Reply whole, String first, String last) {
        long length = whole.body().size();
        long from = first.isEmpty() ? Math.max(0, length - Long.parseLong(last)) : Long.parseLong(first);
        long to = first.isEmpty() || last.isEmpty() ? length - 1 : Math.min(length - 1, Long.parseLong(last));
        if (!first.isEmpty() && !last.isEmpty() && Long.parseLong(last) < from) {
            return whole;
        }
        if (from > to || from >= length) {
            throw new Refusal(416, "InvalidRange", "The requested range is not satisfiable");
        }
        return slice(whole, from, to);
    }

    /** Returns a part of an answer, both ends included. */
    static Reply slice(Reply whole, long from, long to) {
        whole.headers()
                .put(
                        "Content-Range",
                        "bytes " + from + "-" + to + "/" + whole.body().size());
        Content part = whole.body().part(from, to - from + 1);
        return new Reply(206, whole.headers(), part);
    }

    /** Returns a time as headers or documents spell it; absent for what is none. */
    static Optional<Instant> instant(String text) {
        try {
            return Optional.of(ZonedDateTime.parse(text, IN_HEADERS).toInstant());
        } catch (DateTimeException other) {
            try {
                return Optional.of(OffsetDateTime.parse(text).toInstant());
            } catch (DateTimeException noTime) {
                return Optional.empty();
            }
        }
    }
}
