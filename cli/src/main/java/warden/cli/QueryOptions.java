package warden.cli;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.List;
import org.jspecify.annotations.Nullable;
import warden.gather.aws.activity.ActivityQuery;

/** Options of the query that sums the account's log up on an engine of the user's own. */
final class QueryOptions {
    /** What credentials use but once a quarter is use too. */
    private static final int DAYS = 90;

    private static final String TABLE = "cloudtrail_logs";

    private boolean isAsked;
    private @Nullable String table;
    private @Nullable String from;
    private @Nullable String to;
    private List<String> partitionedBy = List.of();

    /** Declares them. */
    void declare(Options line) {
        line.flag(
                "--activity-query",
                "Print SQL that sums such logs up on an engine of your own; --activity reads the result",
                value -> isAsked = value);
        line.text("--table", "NAME", "Table of the log, for the query. Default: " + TABLE, value -> table = value);
        line.text(
                "--from",
                "DATE",
                "First day that the query counts. Default: 90 days before the last",
                value -> from = value);
        line.text("--to", "DATE", "Last day that the query counts. Default: the day of --at", value -> to = value);
        line.textsByComma(
                "--partitioned-by",
                "COLUMN",
                "Column of the table's days, written as 2026/11/24, or three of year, month and day; the query then reads only those days",
                value -> partitionedBy = value);
    }

    /** True when the query is asked for. Its options mean nothing else, and are refused without it. */
    boolean isAsked() {
        if (!isAsked && (table != null || from != null || to != null || !partitionedBy.isEmpty())) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--table, --from, --to and --partitioned-by go with --activity-query; add it, or leave them out");
        }
        return isAsked;
    }

    String text(Instant at) {
        LocalDate last = to == null ? at.atZone(ZoneOffset.UTC).toLocalDate() : day("--to", to);
        LocalDate first = from == null ? last.minusDays(DAYS) : day("--from", from);
        try {
            return new ActivityQuery(table == null ? TABLE : table, first, last, partitionedBy).spelled();
        } catch (IllegalArgumentException wrong) {
            throw new InputException(ExitCode.WRONG_COMMAND, String.valueOf(wrong.getMessage()));
        }
    }

    private static LocalDate day(String option, String text) {
        try {
            return LocalDate.parse(text);
        } catch (DateTimeParseException noDay) {
            throw new InputException(ExitCode.WRONG_COMMAND, option + ": give a day, as in 2026-11-24");
        }
    }
}
