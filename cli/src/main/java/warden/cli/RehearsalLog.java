package warden.cli;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.OptionalInt;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import warden.core.aws.rehearse.BucketContents;
import warden.core.rehearse.RehearsalRecord;
import warden.core.rehearse.RehearsedCall;
import warden.core.rehearse.RehearsedUses;

/**
 * Adds the calls of a rehearsal up as they come, and writes the record of them line by line, so that one which is interrupted is still good. Safe for use
 * by several threads.
 */
final class RehearsalLog implements AutoCloseable {
    private final String as;
    private final RehearsedUses uses;
    private final UnaryOperator<String> sayable;
    private final @Nullable BufferedWriter out;
    private boolean hasEnded;
    private long late;
    private @Nullable IOException failure;

    /**
     * Begins a record.
     *
     * @param as the ARN of who is rehearsed
     * @param file null for none
     * @param sayable keeps back what is not to be said
     */
    RehearsalLog(String as, @Nullable Path file, UnaryOperator<String> sayable) {
        this.as = as;
        this.uses = new RehearsedUses(as, BucketContents::bucketOf);
        this.sayable = sayable;
        try {
            this.out = file == null ? null : Files.newBufferedWriter(file, StandardCharsets.UTF_8);
        } catch (IOException refused) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    file + ": cannot write there (" + TargetFile.why(refused) + "); name another file with --record");
        }
    }

    void header(String at, String survey, List<String> command) {
        write(RehearsalRecord.header(at, as, survey, command));
    }

    synchronized void call(RehearsedCall call) {
        if (hasEnded) {
            late++;
            return;
        }
        long number = uses.add(call);
        if (out != null) {
            write(RehearsalRecord.call(number, as, call));
        }
    }

    /** Says that the command has ended: calls that come now are nobody's. */
    synchronized void ended(OptionalInt code) {
        hasEnded = true;
        write(RehearsalRecord.trailer(code, uses));
    }

    private synchronized void write(String line) {
        if (out == null || failure != null) {
            return;
        }
        try {
            out.write(sayable.apply(line).stripTrailing());
            out.write('\n');
            out.flush();
        } catch (IOException full) {
            failure = full;
        }
    }

    RehearsedUses uses() {
        return uses;
    }

    /** Returns how many calls came after the command had ended. */
    synchronized long late() {
        return late;
    }

    @Override
    public synchronized void close() {
        try {
            if (out != null) {
                out.close();
            }
        } catch (IOException full) {
            failure = failure == null ? full : failure;
        }
        if (failure != null) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--record: the record could not be written to its end (" + TargetFile.why(failure) + ")");
        }
    }
}
