package warden.standin;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;

/** What an object or an answer holds: bytes in memory, or a part of a file. */
public sealed interface Content {
    /** Returns how many bytes there are. */
    long size();

    /** Writes the first {@code length} bytes. */
    void writeTo(OutputStream out, long length) throws IOException;

    /** Returns the bytes from {@code from} on, {@code length} of them. */
    Content part(long from, long length);

    /** Returns all bytes at once; for what is known to be small. */
    byte[] bytes();

    /** Bytes in memory. */
    record Held(byte[] bytes) implements Content {
        @Override
        public long size() {
            return bytes.length;
        }

        @Override
        public void writeTo(OutputStream out, long length) throws IOException {
            out.write(bytes, 0, (int) length);
        }

        @Override
        public Content part(long from, long length) {
            return new Held(Arrays.copyOfRange(bytes, (int) from, (int) (from + length)));
        }
    }

    /** Words, again and again, as long as is asked for; nothing of it is held. */
    record MadeUp(byte[] words, long from, long size) implements Content {
        public MadeUp(byte[] words, long size) {
            this(words, 0, size);
        }

        @Override
        public void writeTo(OutputStream out, long length) throws IOException {
            for (long i = 0; i < length; ) {
                int at = (int) ((from + i) % words.length);
                int count = (int) Math.min(words.length - at, length - i);
                out.write(words, at, count);
                i += count;
            }
        }

        @Override
        public Content part(long partFrom, long length) {
            return new MadeUp(words, from + partFrom, length);
        }

        @Override
        public byte[] bytes() {
            byte[] all = new byte[(int) size];
            for (int i = 0; i < all.length; i++) {
                all[i] = words[(int) ((from + i) % words.length)];
            }
            return all;
        }
    }

    /** A part of a file, which stays as it is. */
    record Filed(Path file, long from, long size) implements Content {
        @Override
        public void writeTo(OutputStream out, long length) throws IOException {
            try (FileChannel channel = FileChannel.open(file, StandardOpenOption.READ)) {
                channel.position(from);
                InputStream in = Channels.newInputStream(channel);
                byte[] piece = new byte[64 * 1024];
                long left = length;
                while (left > 0) {
                    int read = in.read(piece, 0, (int) Math.min(piece.length, left));
                    if (read < 0) {
                        throw new IOException(file + " ends early");
                    }
                    out.write(piece, 0, read);
                    left -= read;
                }
            }
        }

        @Override
        public Content part(long partFrom, long length) {
            return new Filed(file, from + partFrom, length);
        }

        @Override
        public byte[] bytes() {
            try (InputStream in = Files.newInputStream(file)) {
                in.skipNBytes(from);
                return in.readNBytes((int) size);
            } catch (IOException gone) {
                throw new UncheckedIOException(gone);
            }
        }
    }
}
