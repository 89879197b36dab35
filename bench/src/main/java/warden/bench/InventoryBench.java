package warden.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;

/** An inventory of millions of keys, made into a survey. */
final class InventoryBench {
    private static final int KEYS = 10_000_000;
    private static final int PARTS = 4;
    private static final String HEAP = "-Xmx1g";

    private InventoryBench() {}

    /** Compares the program with decompressing the parts and splitting their lines, each in a process of its own. */
    static void run() throws Exception {
        StartBench.awaitArchive();
        Path folder = Files.createTempDirectory("inventory");
        try {
            write(folder);
            Path answers = Files.createDirectory(folder.resolve("answers"));
            Files.writeString(
                    answers.resolve("bucket-list__210987654321.json"), "{\"Buckets\":[{\"Name\":\"tides\"}]}");
            List<String> lines = List.of(
                    "java",
                    "-XX:+UseSerialGC",
                    HEAP,
                    "-cp",
                    System.getProperty("java.class.path"),
                    "warden.bench.InventoryBench$Lines",
                    folder.toString());
            List<String> program = List.of(
                    "env",
                    "JDK_JAVA_OPTIONS=" + HEAP,
                    "./gentle-warden",
                    "survey",
                    "-q",
                    "--folder=" + answers,
                    "--inventory=" + folder.resolve("manifest.json"),
                    "--force",
                    "--output=" + folder.resolve("survey.ndjson"));
            Spent.by(program);
            Spent split = Spent.median(0, () -> Spent.by(lines));
            Spent read = Spent.median(0, () -> Spent.by(program));
            Bench.print(
                    "inventory of %d keys, heap of 1 GB: %s; decompressing and splitting its lines: %s",
                    KEYS, read, split);
            Bench.print("  ratio %.2f (bound 3)", read.processor() / split.processor());
        } finally {
            try (Stream<Path> files = Files.walk(folder)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(file);
                }
            }
        }
    }

    private static void write(Path folder) throws Exception {
        StringBuilder files = new StringBuilder();
        for (int part = 0; part < PARTS; part++) {
            Path file = folder.resolve("part" + part + ".csv.gz");
            try (OutputStream out = Files.newOutputStream(file);
                    Writer rows = new OutputStreamWriter(new GZIPOutputStream(out, 1 << 16), StandardCharsets.UTF_8)) {
                for (int i = part * (KEYS / PARTS); i < (part + 1) * (KEYS / PARTS); i++) {
                    rows.write(String.format(
                            Locale.ROOT,
                            "\"tides\",\"charts/%03d/%09d.%s\",\"%d\",\"2026-10-01T00:00:00.000Z\",\"d41d8cd98f00b204e9800998ecf8427e\",\"STANDARD\",\"SSE-S3\"\n",
                            i % 997,
                            i,
                            i % 50 == 0 ? "html" : "png",
                            i % 100_000));
                }
            }
            byte[] bytes = Files.readAllBytes(file);
            files.append(part > 0 ? "," : "")
                    .append(Surveys.json("{'key':'x/part" + part + ".csv.gz','size':" + bytes.length
                            + ",'MD5checksum':'"
                            + HexFormat.of()
                                    .formatHex(MessageDigest.getInstance("MD5").digest(bytes))
                            + "'}"));
        }
        Files.writeString(
                folder.resolve("manifest.json"),
                Surveys.json(
                                "{'sourceBucket':'tides','version':'2016-11-30','creationTimestamp':'1795392000000','fileFormat':'CSV','fileSchema':'Bucket, Key, Size, LastModifiedDate, ETag, StorageClass, EncryptionStatus','files':[")
                        + files + "]}");
    }

    /** What reading the rows takes by itself. */
    static final class Lines {
        private Lines() {}

        public static void main(String[] arguments) throws IOException {
            long values = 0;
            for (int part = 0; part < PARTS; part++) {
                try (BufferedReader rows = new BufferedReader(new InputStreamReader(
                        new GZIPInputStream(
                                Files.newInputStream(Path.of(arguments[0], "part" + part + ".csv.gz")), 1 << 16),
                        StandardCharsets.UTF_8))) {
                    for (String row = rows.readLine(); row != null; row = rows.readLine()) {
                        values += row.split(",").length;
                    }
                }
            }
            Bench.print("%d values", values);
        }
    }
}
