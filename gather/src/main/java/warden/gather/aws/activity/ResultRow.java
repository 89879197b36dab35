package warden.gather.aws.activity;

import java.util.List;
import java.util.Optional;

/** One row of what {@link ActivityQuery} gives: whoever may write the file may have written anything into it. */
final class ResultRow {
    static final List<String> COLUMNS =
            List.of("credential", "action", "resource", "outcome", "uses", "first_used", "last_used");
    private static final int CREDENTIAL = 0;
    private static final int ACTION = 1;
    private static final int RESOURCE = 2;
    private static final int OUTCOME = 3;
    private static final int USES = 4;
    private static final int LAST_USED = 6;
    /** More digits than a log has events, and fewer than a number holds. */
    private static final int MOST_DIGITS = 15;

    private final String[] values = new String[COLUMNS.size()];
    private boolean isEmpty = true;

    /** Takes a value; false for a column that no row has. */
    boolean take(String column, String value) {
        int place = COLUMNS.indexOf(column);
        if (place >= 0) {
            take(place, value);
        }
        return place >= 0;
    }

    /** As above, by the column's place among {@link #COLUMNS}. */
    void take(int place, String value) {
        values[place] = value;
        isEmpty = false;
    }

    boolean isEmpty() {
        return isEmpty;
    }

    private String value(int place) {
        String value = values[place];
        return value == null ? "" : value;
    }

    /** Returns why nothing can be taken from it, as the end of a sentence; absent where something can. */
    Optional<String> obstacle() {
        if (!isNumber(value(USES))) {
            return Optional.of("without a number of uses");
        }
        if (!value(OUTCOME).equals("used") && !isRefused()) {
            return Optional.of("with an outcome that is neither used nor refused");
        }
        if (value(ACTION).indexOf(':') < 0) {
            return Optional.of("without an action");
        }
        return isInstant(value(LAST_USED)) ? Optional.empty() : Optional.of("without the time of the last use");
    }

    private static boolean isNumber(String text) {
        boolean isNumber = !text.isEmpty() && text.length() <= MOST_DIGITS && text.charAt(0) != '0';
        for (int i = 0; i < text.length() && isNumber; i++) {
            isNumber = isDigit(text.charAt(i));
        }
        return isNumber;
    }

    private static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    /** As the log writes times: {@code 2026-11-24T06:30:00Z}, with or without a part of the second. */
    private static boolean isInstant(String text) {
        int length = text.length();
        boolean isInstant = length >= 20 && length <= 32 && text.charAt(length - 1) == 'Z';
        for (int i = 0; i < length - 1 && isInstant; i++) {
            char c = text.charAt(i);
            isInstant = switch (i) {
                case 4, 7 -> c == '-';
                case 10 -> c == 'T';
                case 13, 16 -> c == ':';
                case 19 -> c == '.';
                default -> isDigit(c);
            };
        }
        return isInstant;
    }

    boolean isRefused() {
        return value(OUTCOME).equals("refused");
    }

    /** Returns how many events it stands for. */
    long uses() {
        return Long.parseLong(value(USES));
    }

    Event event() {
        return Event.ofRow(value(CREDENTIAL), value(ACTION), value(RESOURCE), value(LAST_USED));
    }
}
