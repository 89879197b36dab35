package warden.cli;

import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;

/** Standard output, of which each failure is remembered: a writer that prints swallows them. */
final class StandardOutput extends OutputStream {
    private final OutputStream out;
    private @Nullable IOException failure;

    StandardOutput(OutputStream out) {
        this.out = out;
    }

    static StandardOutput ofProcess() {
        return new StandardOutput(new FileOutputStream(FileDescriptor.out));
    }

    PrintWriter writer() {
        return new PrintWriter(new OutputStreamWriter(this, StandardCharsets.UTF_8), false);
    }

    @Override
    public void write(int octet) throws IOException {
        write(new byte[] {(byte) octet}, 0, 1);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        if (failure != null) {
            throw failure;
        }
        try {
            out.write(bytes, from, length);
        } catch (IOException failed) {
            failure = failed;
            throw failed;
        }
    }

    /**
     * Returns what a run ends with when all is written.
     *
     * @param code what it ends with otherwise
     * @param err is told when something was lost
     */
    int ended(int code, PrintWriter err) {
        if (failure == null) {
            return code;
        }
        err.println("gentle-warden: standard output cannot be written (" + failure.getMessage()
                + "); what came out is cut off");
        return ExitCode.WRONG_COMMAND.number();
    }
}
