package warden.gather.survey;

import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.FileInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Collectors;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipException;
import warden.core.Providers;
import warden.core.document.DisplayText;
import warden.core.provider.Provider;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyReader;

/** Reads surveys from files. A file is taken for compressed by its first bytes, whatever its name. */
public final class SurveyFiles {
    private static final int GZIP_FIRST = 0x1f;
    private static final int GZIP_SECOND = 0x8b;

    private SurveyFiles() {}

    /**
     * Reads a survey.
     *
     * @param name the file's name as the user gave it, {@code -} for standard input; citations use it
     * @throws SurveyException when the file cannot be used; the message says what to do
     */
    public static Survey read(String name, InputStream standardInput) throws SurveyException {
        if (name.equals("-")) {
            return read(standardInput, "standard input");
        }
        Path path = Path.of(name);
        if (!Files.exists(path)) {
            throw new SurveyException(name, "there is no such file; give a survey with --survey FILE");
        }
        if (Files.isDirectory(path)) {
            throw new SurveyException(name, "this is a folder, not a survey; name the survey's file");
        }
        // Not Files.newInputStream, whose streams ask for a position, which a pipe that a shell names as a file does
        // not have.
        try (InputStream in = new FileInputStream(path.toFile())) {
            return read(in, name);
        } catch (IOException unreadable) {
            throw new SurveyException(name, "the file cannot be read (" + reason(unreadable) + ")");
        }
    }

    /** Reads a survey from a stream that the caller closes. */
    public static Survey read(InputStream raw, String name) throws SurveyException {
        try {
            InputStream in = plain(new BufferedInputStream(raw, 64 * 1024));
            AtomicReference<Survey.Collector> collector = new AtomicReference<>();
            SurveyHeader header = SurveyReader.readAfterHeader(in, name, first -> {
                Optional<Provider> provider = Providers.named(first.provider());
                provider.ifPresent(known -> collector.set(new Survey.Collector(known.aspects())));
                return provider.isPresent() ? collector.get()::add : reading -> {};
            });
            if (collector.get() == null) {
                throw new SurveyException(
                        name,
                        1,
                        "the header names the provider \"" + DisplayText.name(header.provider()) + "\"; known are "
                                + Providers.ALL.stream().map(Provider::name).collect(Collectors.joining(" and ")));
            }
            return collector.get().toSurvey(header);
        } catch (Endless endless) {
            throw new SurveyException(name, reason(endless) + "; take it again");
        } catch (ZipException damaged) {
            throw new SurveyException(name, "the compressed file is damaged (" + reason(damaged) + "); copy it again");
        } catch (EOFException cutOff) {
            throw new SurveyException(name, "the compressed file is cut off; copy it again");
        } catch (IOException unreadable) {
            throw new SurveyException(name, "the file cannot be read (" + reason(unreadable) + ")");
        }
    }

    private static InputStream plain(BufferedInputStream in) throws IOException {
        in.mark(2);
        int first = in.read();
        int second = in.read();
        in.reset();
        return first == GZIP_FIRST && second == GZIP_SECOND ? new Expanding(in) : in;
    }

    /** A compressed survey, which is refused when it expands as no survey does: it would never end, or fill the memory by one line. */
    private static final class Expanding extends FilterInputStream {
        private static final long UNSUSPICIOUS = 16L << 20;
        private static final long MOST_TIMES = 200;

        private final Counting compressed;
        private long expanded;

        Expanding(InputStream compressed) throws IOException {
            this(new Counting(compressed));
        }

        private Expanding(Counting compressed) throws IOException {
            super(new GZIPInputStream(compressed, 64 * 1024));
            this.compressed = compressed;
        }

        @Override
        public int read() throws IOException {
            byte[] one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] bytes, int from, int length) throws IOException {
            int count = super.read(bytes, from, length);
            expanded += Math.max(0, count);
            if (expanded > UNSUSPICIOUS && expanded > MOST_TIMES * compressed.count) {
                throw new Endless("it expands to more than " + MOST_TIMES + " times its size, which no survey does");
            }
            return count;
        }
    }

    private static final class Endless extends IOException {
        private static final long serialVersionUID = 1L;

        Endless(String says) {
            super(says);
        }
    }

    private static final class Counting extends FilterInputStream {
        private long count;

        Counting(InputStream in) {
            super(in);
        }

        @Override
        public int read() throws IOException {
            int octet = super.read();
            count += octet < 0 ? 0 : 1;
            return octet;
        }

        @Override
        public int read(byte[] bytes, int from, int length) throws IOException {
            int read = super.read(bytes, from, length);
            count += Math.max(0, read);
            return read;
        }
    }

    private static String reason(IOException failure) {
        String message = failure.getMessage();
        return message == null ? failure.getClass().getSimpleName() : message;
    }
}
