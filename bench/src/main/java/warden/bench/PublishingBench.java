package warden.bench;

import java.io.BufferedInputStream;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import tools.jackson.core.JsonParser;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.MappingIterator;
import tools.jackson.databind.ObjectReader;
import tools.jackson.dataformat.csv.CsvMapper;
import tools.jackson.dataformat.csv.CsvReadFeature;
import warden.core.content.PublishedFolder;
import warden.core.trim.Activity;
import warden.gather.aws.activity.ActivityReader;
import warden.gather.content.FolderReader;

/** Measures the publishing side: the account's log, and a folder that is about to be published. */
final class PublishingBench {
    private static final int EVENTS = 1_000_000;
    private static final int FILES = 20_000;

    private PublishingBench() {}

    /** A million events of the log in gzip, against only decompressing and parsing them. */
    static void activity() throws Exception {
        Path log = Files.createTempFile("activity", ".json.gz");
        try {
            write(log);
            Bench.print("log of %d events: %.1f MB in gzip", EVENTS, Files.size(log) / 1e6);
            Spent.compare(
                    "decompressing and parsing alone",
                    () -> Spent.on(() -> parse(log)),
                    "summing up",
                    () -> Spent.on(() -> summed(log)),
                    1,
                    3);
        } finally {
            Files.delete(log);
        }
    }

    /** A result of a million rows, against only parsing them. */
    static void result() throws Exception {
        Path result = Files.createTempFile("activity", ".csv");
        try {
            try (BufferedWriter out = Files.newBufferedWriter(result)) {
                out.write("\"credential\",\"action\",\"resource\",\"outcome\",\"uses\",\"first_used\",\"last_used\"\n");
                for (int i = 0; i < EVENTS; i++) {
                    out.write("\"arn:aws:iam::210987654321:role/r" + i % 40 + "\",\"s3:"
                            + (i % 3 == 0 ? "ListObjects" : "PutObject") + "\",\"arn:aws:s3:::site-" + i
                            + (i % 3 == 0 ? "" : "/*") + "\",\"used\",\"" + (1 + i % 7)
                            + "\",\"2026-09-01T00:00:00Z\",\"2026-11-18T05:09:50Z\"\n");
                }
            }
            Bench.print("result of %d rows: %.1f MB", EVENTS, Files.size(result) / 1e6);
            Spent.compare(
                    "parsing alone",
                    () -> Spent.on(() -> parseTable(result)),
                    "summing up",
                    () -> Spent.on(() -> summed(result)),
                    1,
                    3);
        } finally {
            Files.delete(result);
        }
    }

    private static void parseTable(Path file) {
        ObjectReader rows =
                CsvMapper.builder().build().readerFor(String[].class).with(CsvReadFeature.WRAP_AS_ARRAY);
        long values = 0;
        try (MappingIterator<String[]> all = rows.readValues(file.toFile())) {
            while (all.hasNextValue()) {
                values += all.nextValue().length;
            }
        }
        Bench.print("%d values", values);
    }

    private static void write(Path log) throws IOException {
        Random random = new Random(7);
        try (BufferedWriter out = new BufferedWriter(new OutputStreamWriter(
                new GZIPOutputStream(Files.newOutputStream(log), 1 << 16), StandardCharsets.UTF_8))) {
            out.write("{\"Records\":[");
            for (int i = 0; i < EVENTS; i++) {
                out.write(i == 0 ? "" : ",");
                out.write(
                        "{\"eventVersion\":\"1.10\",\"userIdentity\":{\"type\":\"AssumedRole\",\"principalId\":\"AROAHERON:x\",\"arn\":\"arn:aws:sts::210987654321:assumed-role/r"
                                + i % 40
                                + "/x\",\"accountId\":\"210987654321\",\"sessionContext\":{\"sessionIssuer\":{\"type\":\"Role\",\"arn\":\"arn:aws:iam::210987654321:role/r"
                                + i % 40
                                + "\"},\"attributes\":{\"creationDate\":\"2026-11-18T05:00:00Z\",\"mfaAuthenticated\":\"false\"}}},\"eventTime\":\"2026-11-18T05:09:50Z\","
                                + "\"eventSource\":\"s3.amazonaws.com\",\"eventName\":\""
                                + (i % 3 == 0 ? "ListObjects" : "PutObject")
                                + "\",\"awsRegion\":\"eu-west-1\",\"sourceIPAddress\":\"198.51.100."
                                + random.nextInt(250)
                                + "\",\"userAgent\":\"[aws-cli/2]\",\"requestParameters\":{\"bucketName\":\"site-"
                                + i % 100 + "\",\"Host\":\"site.example\",\"key\":\"pages/"
                                + random.nextInt(100_000)
                                + ".html\"},\"responseElements\":null,\"additionalEventData\":{\"bytesTransferredIn\":"
                                + random.nextInt(100_000)
                                + "},\"requestID\":\"" + Long.toHexString(random.nextLong()) + "\",\"eventID\":\""
                                + Long.toHexString(random.nextLong())
                                + "\",\"readOnly\":false,\"resources\":[{\"type\":\"AWS::S3::Object\",\"ARN\":\"arn:aws:s3:::site/x\"}],\"eventType\":\"AwsApiCall\","
                                + "\"recipientAccountId\":\"210987654321\"}");
            }
            out.write("]}");
        }
    }

    private static long parse(Path log) {
        long tokens = 0;
        try (InputStream in =
                        new GZIPInputStream(new BufferedInputStream(Files.newInputStream(log), 1 << 16), 1 << 16);
                JsonParser parser = JsonFactory.builder().build().createParser(in)) {
            while (parser.nextToken() != null) {
                tokens++;
            }
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
        return tokens;
    }

    private static Activity summed(Path log) {
        try {
            return ActivityReader.read(List.of(log.toString()));
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** A folder of 20,000 files, against reading each once. */
    static void folder() throws Exception {
        Path folder = Files.createTempDirectory("published");
        try {
            long size = fill(folder);
            Bench.print("folder of %d files, %.1f MB", FILES, size / 1e6);
            Spent.compare(
                    "reading alone",
                    () -> Spent.on(() -> readAll(folder)),
                    "looking at",
                    () -> Spent.on(() -> read(folder)),
                    2,
                    3);
        } finally {
            try (Stream<Path> all = Files.walk(folder)) {
                for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(path);
                }
            }
        }
    }

    /** Of twenty files eleven are pages, six images, two scripts and one a style sheet, much as sites have them. */
    private static long fill(Path folder) throws IOException {
        Random random = new Random(5);
        long size = 0;
        for (int i = 0; i < FILES; i++) {
            Path inside = Files.createDirectories(folder.resolve("part-" + i % 200));
            byte[] content;
            String name;
            switch (i % 20) {
                case 0, 1, 2, 3, 7, 8, 9, 10, 11, 12, 13 -> {
                    name = "page-" + i + ".html";
                    StringBuilder page = new StringBuilder("<!doctype html><html><head><title>Ferry " + i
                            + "</title><link rel=stylesheet href=/part-6/style-6.css></head><body>");
                    for (int p = 0; p < 20; p++) {
                        page.append("<p>The ferry to island ")
                                .append(random.nextInt())
                                .append(" leaves at seven; <a href=\"page-")
                                .append(random.nextInt(FILES))
                                .append(".html\">see the timetable</a> for the winter months.</p>\n");
                    }
                    content = page.append("</body></html>").toString().getBytes(StandardCharsets.UTF_8);
                }
                case 4, 5, 14, 15, 16, 17 -> {
                    name = "image-" + i + ".jpg";
                    content = new byte[30_000];
                    random.nextBytes(content);
                }
                case 6 -> {
                    name = "style-" + i + ".css";
                    content = ".a { background: url(image-4.jpg); margin: 0 auto }\n"
                            .repeat(40)
                            .getBytes(StandardCharsets.UTF_8);
                }
                default -> {
                    name = "script-" + i + ".js";
                    content = "function sail(port) { return ports.filter(p => p.name === port).map(p => p.times); }\n"
                            .repeat(200)
                            .getBytes(StandardCharsets.UTF_8);
                }
            }
            Files.write(inside.resolve(name), content);
            size += content.length;
        }
        return size;
    }

    private static long readAll(Path folder) {
        long bytes = 0;
        try (Stream<Path> all = Files.walk(folder)) {
            List<Path> files = new ArrayList<>(all.filter(Files::isRegularFile).toList());
            for (Path file : files) {
                bytes += Files.readAllBytes(file).length;
            }
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
        return bytes;
    }

    private static PublishedFolder read(Path folder) {
        try {
            return FolderReader.read(folder.toString());
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }
}
