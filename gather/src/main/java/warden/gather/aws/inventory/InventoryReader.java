package warden.gather.aws.inventory;

import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipException;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.MappingIterator;
import tools.jackson.databind.ObjectReader;
import tools.jackson.dataformat.csv.CsvMapper;
import tools.jackson.dataformat.csv.CsvReadFeature;
import warden.core.document.DisplayText;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * Reads an inventory by its manifest, row by row: only what is told of it is kept. Its parts have to be there, as long and with the checksums
 * that the manifest says. Source: S3 User Guide, "Amazon S3 Inventory list" and "Locating your inventory list".
 */
public final class InventoryReader {
    private static final ObjectReader TABLE =
            CsvMapper.builder().build().readerFor(String[].class).with(CsvReadFeature.WRAP_AS_ARRAY);
    private static final int BUFFER = 64 * 1024;

    private final Path manifest;
    private final String name;

    private InventoryReader(Path manifest) {
        this.manifest = manifest;
        this.name = manifest.toString();
    }

    /**
     * Reads it.
     *
     * @param manifest the file {@code manifest.json}, beside the report's data or above it, as it lies in its bucket
     */
    public static Inventory read(Path manifest) throws Inventory.Unusable {
        return new InventoryReader(manifest).read();
    }

    private Inventory.Unusable unusable(String says) {
        return new Inventory.Unusable(name + ": " + says);
    }

    private Inventory read() throws Inventory.Unusable {
        JsonPart root = JsonReader.read(text())
                .root()
                .orElseThrow(() -> unusable("this is not JSON; --inventory takes the manifest.json of an inventory"));
        Optional<String> bucket = root.text("sourceBucket");
        Optional<String> schema = root.text("fileSchema");
        List<JsonPart> files = root.list("files");
        if (bucket.isEmpty() || schema.isEmpty() || root.find("files").isEmpty()) {
            throw unusable("this is no inventory's manifest: it has no "
                    + (bucket.isEmpty() ? "sourceBucket" : schema.isEmpty() ? "fileSchema" : "files"));
        }
        String format = root.text("fileFormat").orElse("");
        if (!format.equals("CSV")) {
            throw unusable("this inventory is written as " + DisplayText.name(format)
                    + "; only CSV is read, choose it in the inventory's settings");
        }
        List<String> columns =
                Stream.of(schema.get().split(",")).map(String::strip).toList();
        if (!columns.contains("Key")) {
            throw unusable("its fileSchema has no Key");
        }
        Optional<Instant> made = root.text("creationTimestamp")
                .filter(text -> text.matches("[0-9]{1,15}"))
                .map(text -> Instant.ofEpochMilli(Long.parseLong(text)));
        if (made.isEmpty()) {
            throw unusable(
                    "its creationTimestamp is missing, or no count of milliseconds; what it says is known as of then only");
        }
        // All parts are looked for before one is read: what is missing should be known at once.
        List<Part> parts = new ArrayList<>();
        for (JsonPart file : files) {
            parts.add(part(file));
        }
        InventoryTally tally = new InventoryTally(bucket.get(), columns);
        for (Part part : parts) {
            read(part, columns, tally);
        }
        return tally.inventory(made.get());
    }

    private String text() throws Inventory.Unusable {
        try {
            return Files.readString(manifest);
        } catch (CharacterCodingException notText) {
            throw unusable("this is not UTF-8 text; --inventory takes the manifest.json of an inventory");
        } catch (IOException unreadable) {
            throw unusable(
                    "there is no such file, or it cannot be read; --inventory takes the manifest.json of an inventory");
        }
    }

    /** A file of the report. */
    private record Part(Path file, Optional<Long> size, Optional<String> checksum) {}

    private Part part(JsonPart described) throws Inventory.Unusable {
        String key = described.text("key").orElseThrow(() -> unusable("a file in it has no key"));
        Path file = find(key)
                .orElseThrow(() -> unusable("its part " + DisplayText.name(key)
                        + " is not there; copy the whole inventory, data and all, and keep its folders"));
        return new Part(
                file,
                described
                        .text("size")
                        .filter(text -> text.matches("[0-9]{1,15}"))
                        .map(Long::parseLong),
                described.text("MD5checksum"));
    }

    /** A copy of the whole folder has the data beside the manifest's; of the bucket, somewhere above it; of the files alone, right beside it. */
    private Optional<Path> find(String key) {
        try {
            Path last = Optional.ofNullable(Path.of(key).getFileName()).orElse(Path.of(""));
            Path folder = Optional.ofNullable(
                            manifest.toAbsolutePath().normalize().getParent())
                    .orElse(Path.of("/"));
            List<Path> candidates = new ArrayList<>(
                    List.of(folder.resolve(last), folder.resolve("data").resolve(last)));
            Optional.ofNullable(folder.getParent())
                    .ifPresent(above -> candidates.add(above.resolve("data").resolve(last)));
            boolean isPlain = !key.startsWith("/") && !List.of(key.split("/")).contains("..");
            // The root of all files is nobody's copy of a bucket.
            for (Path above = folder; isPlain && above.getParent() != null; above = above.getParent()) {
                candidates.add(above.resolve(key));
            }
            return candidates.stream().filter(Files::isRegularFile).findFirst();
        } catch (InvalidPathException noPath) {
            return Optional.empty();
        }
    }

    private void read(Part part, List<String> columns, InventoryTally tally) throws Inventory.Unusable {
        try {
            long size = Files.size(part.file());
            if (part.size().filter(told -> told != size).isPresent()) {
                throw new Inventory.Unusable(part.file() + ": this part has " + size + " bytes, and the manifest says "
                        + part.size().get() + "; copy it again");
            }
            MessageDigest digest = MessageDigest.getInstance("MD5");
            try (InputStream file =
                    new DigestInputStream(new BufferedInputStream(Files.newInputStream(part.file()), BUFFER), digest)) {
                rows(part, file, columns, tally);
                file.transferTo(java.io.OutputStream.nullOutputStream());
            }
            String sum = HexFormat.of().formatHex(digest.digest());
            if (part.checksum().filter(told -> !told.equalsIgnoreCase(sum)).isPresent()) {
                throw new Inventory.Unusable(part.file()
                        + ": this part is not the one that the manifest is of (its checksum differs); copy it again");
            }
        } catch (EOFException | ZipException cutOff) {
            throw new Inventory.Unusable(part.file() + ": this part is cut off, or not in gzip; copy it again");
        } catch (IOException unreadable) {
            throw new Inventory.Unusable(part.file() + ": this part cannot be read (" + unreadable.getMessage() + ")");
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private static void rows(Part part, InputStream file, List<String> columns, InventoryTally tally)
            throws IOException, Inventory.Unusable {
        long row = 0;
        // The parser closes what it reads from; the rest of the file still has to be summed up.
        InputStream open = new FilterInputStream(file) {
            @Override
            public void close() {
                // Its owner closes it.
            }
        };
        try (MappingIterator<String[]> rows = TABLE.readValues(new GZIPInputStream(open, BUFFER))) {
            while (rows.hasNext()) {
                String[] values = rows.next();
                row++;
                if (values.length != columns.size()) {
                    throw new Inventory.Unusable(part.file() + ", row " + row + ": it has " + values.length
                            + " values, and the manifest's fileSchema " + columns.size());
                }
                tally.add(values);
            }
        } catch (IllegalArgumentException wrong) {
            throw new Inventory.Unusable(part.file() + ", row " + row + ": " + wrong.getMessage());
        } catch (JacksonException broken) {
            if (broken.getCause() instanceof IOException failed) {
                throw failed;
            }
            throw new Inventory.Unusable(part.file() + ": after row " + row + " this is not CSV; copy it again");
        }
    }

    /** Returns a key as it is; reports escape it as URLs do. */
    static String decoded(String key) {
        return key.indexOf('%') < 0 && key.indexOf('+') < 0 ? key : URLDecoder.decode(key, StandardCharsets.UTF_8);
    }

    static int place(List<String> columns, String... names) {
        return Arrays.stream(names)
                .mapToInt(columns::indexOf)
                .filter(at -> at >= 0)
                .findFirst()
                .orElse(-1);
    }
}
