package warden.gather.activity;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/** One row of what {@link ActivityQuery} gives: whoever may write the file may have written anything into it. */
final class ResultRow {
    static final List<String> COLUMNS =
            List.of("credential", "action", "resource", "outcome", "uses", "first_used", "last_used");
    private static final Pattern NUMBER = Pattern.compile("[1-9][0-9]{0,14}");
    private static final Pattern INSTANT = Pattern.compile("[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:.]{5,20}Z");

    private final Map<String, String> values = new HashMap<>();

    /** Takes a value; false for a column that no row has. */
    boolean take(String column, String value) {
        if (!COLUMNS.contains(column)) {
            return false;
        }
        values.put(column, value);
        return true;
    }

    boolean isEmpty() {
        return values.isEmpty();
    }

    private String value(String column) {
        return values.getOrDefault(column, "");
    }

    /** Returns why nothing can be taken from it, as the end of a sentence; absent where something can. */
    Optional<String> obstacle() {
        if (!NUMBER.matcher(value("uses")).matches()) {
            return Optional.of("without a number of uses");
        }
        if (!value("outcome").equals("used") && !isRefused()) {
            return Optional.of("with an outcome that is neither used nor refused");
        }
        if (value("action").indexOf(':') < 0) {
            return Optional.of("without an action");
        }
        return INSTANT.matcher(value("last_used")).matches()
                ? Optional.empty()
                : Optional.of("without the time of the last use");
    }

    boolean isRefused() {
        return value("outcome").equals("refused");
    }

    /** Returns how many events it stands for. */
    long uses() {
        return Long.parseLong(value("uses"));
    }

    Event event() {
        return Event.ofRow(value("credential"), value("action"), value("resource"), value("last_used"));
    }
}
