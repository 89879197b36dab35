package warden.cli;

import java.time.Clock;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import org.jspecify.annotations.Nullable;

/** The option that says as of when to judge. */
final class AsOf {
    private @Nullable String at;

    /** Declares them. */
    void declare(Options line) {
        line.text(
                "--at",
                "INSTANT",
                "Judge ages and expiries as of then: a date, or an instant such as 2026-11-24T08:00:00Z. Default: now",
                value -> at = value);
    }

    /** Returns the instant as of which to judge. */
    Instant at(Clock clock) {
        if (at == null) {
            return clock.instant().truncatedTo(ChronoUnit.SECONDS);
        }
        try {
            return at.indexOf('T') > 0
                    ? OffsetDateTime.parse(at).toInstant()
                    : LocalDate.parse(at).atStartOfDay().toInstant(ZoneOffset.UTC);
        } catch (DateTimeException strange) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--at takes a date such as 2026-11-24 or an instant such as 2026-11-24T08:00:00Z, not \"" + at
                            + "\"");
        }
    }
}
