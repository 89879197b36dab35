package warden.gather.aws.inventory;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Truth;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.aws.survey.AwsAspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyHeader;

class InventoryReaderTest {
    private static final String SCHEMA =
            "Bucket, Key, VersionId, IsLatest, IsDeleteMarker, Size, StorageClass, EncryptionStatus";

    @TempDir
    private Path folder;

    private static byte[] gzip(String text) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(bytes)) {
            out.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return bytes.toByteArray();
    }

    private static String row(String key, String... rest) {
        String latest = rest.length > 0 ? rest[0] : "true";
        String marker = rest.length > 1 ? rest[1] : "false";
        String size = rest.length > 2 ? rest[2] : "5";
        String storage = rest.length > 3 ? rest[3] : "STANDARD";
        String encryption = rest.length > 4 ? rest[4] : "SSE-S3";
        return "\"tides\",\"" + key + "\",\"v\",\"" + latest + "\",\"" + marker + "\",\"" + size + "\",\"" + storage
                + "\",\"" + encryption + "\"\n";
    }

    /** Writes an inventory as it lies in its bucket: the manifest in a folder of its day, the data in one for all days. */
    private Path inventory(String... parts) throws Exception {
        return inventory(json -> json, parts);
    }

    private Path inventory(UnaryOperator<String> manifest, String... parts) throws Exception {
        Path data = Files.createDirectories(folder.resolve("inventories/tides/all/data"));
        StringBuilder files = new StringBuilder();
        for (int i = 0; i < parts.length; i++) {
            byte[] bytes = gzip(parts[i]);
            Files.write(data.resolve("part" + i + ".csv.gz"), bytes);
            files.append(i > 0 ? "," : "")
                    .append("{\"key\":\"inventories/tides/all/data/part" + i + ".csv.gz\",\"size\":" + bytes.length
                            + ",\"MD5checksum\":\""
                            + HexFormat.of()
                                    .formatHex(MessageDigest.getInstance("MD5").digest(bytes))
                            + "\"}");
        }
        Path day = Files.createDirectories(folder.resolve("inventories/tides/all/2026-11-23T01-00Z"));
        return Files.writeString(
                day.resolve("manifest.json"),
                manifest.apply(
                        "{\"sourceBucket\":\"tides\",\"destinationBucket\":\"arn:aws:s3:::inventories\",\"version\":\"2016-11-30\","
                                + "\"creationTimestamp\":\"1795392000000\",\"fileFormat\":\"CSV\",\"fileSchema\":\""
                                + SCHEMA
                                + "\",\"files\":[" + files + "]}"));
    }

    private static ObjectListing listing(Inventory inventory) {
        Survey.Collector lines = new Survey.Collector(AwsAspects.TABLE);
        lines.add(inventory.reading());
        Survey survey = lines.toSurvey(new SurveyHeader("s", "aws", "210987654321", "", ""));
        return new Bucket(survey, "arn:aws:s3:::tides").objects().found().orElseThrow();
    }

    @Test
    void readsWhatIsThereNow() throws Exception {
        Inventory inventory = InventoryReader.read(inventory(
                row("index.html") + row("a+b%2Bc%20d.html", "true", "false", "77", "GLACIER", "SSE-KMS"),
                row("old.html", "false") + row("gone.html", "true", "true") + row("x.png", "TRUE", "FALSE")));
        assertThat(inventory.bucket()).isEqualTo("tides");
        assertThat(inventory.objects()).isEqualTo(3);
        assertThat(inventory.reading().body())
                .contains(
                        "\"Date\":\"2026-11-23T00:00:00Z\"",
                        "\"StorageClasses\":{\"GLACIER\":1,\"STANDARD\":2}",
                        "\"Encryption\":{\"SSE-KMS\":1,\"SSE-S3\":2}");
        ObjectListing listing = listing(inventory);
        assertThat(listing.keys()).containsExactly("index.html", "a b+c d.html", "x.png");
        assertThat(listing.entry("a b+c d.html").orElseThrow())
                .satisfies(entry -> assertThat(entry.storageClass()).isEqualTo("GLACIER"))
                .satisfies(entry -> assertThat(entry.size()).hasValue(77));
        assertThat(listing.has("old.html")).isEqualTo(Truth.FALSE);
        assertThat(listing.has("gone.html")).isEqualTo(Truth.FALSE);
        assertThat(listing.isWhole()).isTrue();
    }

    /** Of many, the notable names are there; of the others it is never said that one is missing which is not. */
    @Test
    void keepsWhatAChecksNeedsOfMany() throws Exception {
        StringBuilder rows = new StringBuilder(row("index.html")
                + row("backup/site.sql")
                + row("a/.env")
                + row("film.mp4", "true", "false", "9000000"));
        for (int i = 0; i < 150_000; i++) {
            rows.append(row("photos/" + i + ".jpg"));
        }
        Inventory inventory = InventoryReader.read(inventory(rows.toString()));
        assertThat(inventory.objects()).isEqualTo(150_004);
        assertThat(inventory.named()).containsExactly("index.html", "backup/site.sql", "a/.env", "film.mp4");
        assertThat(inventory.reading().body()).hasSizeLessThan(400_000);
        ObjectListing listing = listing(inventory);
        assertThat(listing.isWhole()).isFalse();
        assertThat(listing.isComplete()).isTrue();
        assertThat(listing.has("index.html")).isEqualTo(Truth.TRUE);
        assertThat(listing.has("other.html")).isEqualTo(Truth.FALSE);
        int unsure = 0;
        for (int i = 0; i < 150_000; i++) {
            assertThat(listing.has("photos/" + i + ".jpg")).isEqualTo(Truth.UNKNOWN);
            Truth other = listing.has("pictures/" + i + ".jpg");
            assertThat(other).isNotEqualTo(Truth.TRUE);
            unsure += other == Truth.UNKNOWN ? 1 : 0;
        }
        assertThat(unsure).isLessThan(3_000);
        assertThat(listing.hasUnder("backup/")).isEqualTo(Truth.TRUE);
        assertThat(listing.hasUnder("photos/")).isEqualTo(Truth.UNKNOWN);
    }

    /** With more notable names than are kept, nothing is said of those that are not. */
    @Test
    void saysWhereNotAllNotableNamesAreKept() throws Exception {
        StringBuilder rows = new StringBuilder();
        for (int i = 0; i < 200_050; i++) {
            rows.append("tides,p").append(i).append(".html,v,true,false,5,STANDARD,SSE-S3\n");
        }
        ObjectListing listing = listing(InventoryReader.read(inventory(rows.toString())));
        assertThat(listing.isComplete()).isFalse();
        assertThat(listing.has("p200049.html")).isEqualTo(Truth.UNKNOWN);
        assertThat(listing.has("p7.html")).isEqualTo(Truth.TRUE);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "\"fileFormat\":\"CSV\" | \"fileFormat\":\"ORC\" | written as ORC",
                "\"sourceBucket\" | \"bucket\" | no inventory's manifest: it has no sourceBucket",
                "fileSchema | schema | it has no fileSchema",
                "Bucket, Key | Bucket, Name | its fileSchema has no Key",
                "\"creationTimestamp\":\"1795392000000\" | \"creationTimestamp\":\"today\" | creationTimestamp",
                "data/part0 | data/part9 | part9.csv.gz is not there",
                "\"MD5checksum\":\" | \"MD5checksum\":\"0 | its checksum differs",
                "\"size\": | \"size\":1 | the manifest says",
                ", EncryptionStatus | '' | it has 8 values, and the manifest's fileSchema 7",
                "\"sourceBucket\":\"tides\" | \"sourceBucket\":\"quay\" | row 1: it is of another bucket than quay",
                "{\"sourceBucket | {{\"sourceBucket | not JSON"
            })
    void saysInASentenceWhatIsWrong(String old, String fresh, String says) throws Exception {
        Path manifest = inventory(json -> json.replace(old, fresh), row("index.html"));
        assertThatThrownBy(() -> InventoryReader.read(manifest))
                .isInstanceOf(Inventory.Unusable.class)
                .hasMessageContaining(says);
    }

    @Test
    void saysWhereAPartIsCutOff() throws Exception {
        Path manifest = inventory(row("index.html").repeat(1_000));
        Path part = folder.resolve("inventories/tides/all/data/part0.csv.gz");
        byte[] whole = Files.readAllBytes(part);
        Files.write(part, java.util.Arrays.copyOf(whole, whole.length - 20));
        assertThatThrownBy(() -> InventoryReader.read(manifest)).hasMessageContaining("copy it again");
        Files.writeString(
                manifest,
                Files.readString(manifest).replace("\"size\":" + whole.length, "\"size\":" + (whole.length - 20)));
        assertThatThrownBy(() -> InventoryReader.read(manifest)).hasMessageContaining("cut off");
    }

    /** A manifest names its parts; nothing that lies elsewhere is read for it. */
    @ParameterizedTest
    @ValueSource(strings = {"../../../../../../etc/hostname", "/etc/hostname", "inventories/../../../../etc/hostname"})
    void readsNothingThatLiesElsewhere(String key) throws Exception {
        Path manifest =
                inventory(json -> json.replace("inventories/tides/all/data/part0.csv.gz", key), row("index.html"));
        assertThatThrownBy(() -> InventoryReader.read(manifest)).hasMessageContaining("is not there");
    }

    @Test
    void findsTheDataRightBesideToo() throws Exception {
        Path manifest = inventory(row("index.html"));
        Path flat = Files.createDirectory(folder.resolve("flat"));
        Files.copy(manifest, flat.resolve("manifest.json"));
        Files.copy(folder.resolve("inventories/tides/all/data/part0.csv.gz"), flat.resolve("part0.csv.gz"));
        assertThat(InventoryReader.read(flat.resolve("manifest.json")).named()).isEqualTo(List.of("index.html"));
    }
}
