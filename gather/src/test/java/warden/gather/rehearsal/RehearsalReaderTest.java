package warden.gather.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.aws.rehearse.BucketContents;
import warden.core.pipeline.Needed;
import warden.core.rehearse.RehearsalRecord;
import warden.core.rehearse.RehearsedCall;
import warden.core.rehearse.RehearsedUses;

class RehearsalReaderTest {
    private static final String ROLE = "arn:aws:iam::210987654321:role/web";
    private static final String HEADER =
            RehearsalRecord.header("2026-11-24T00:00:00Z", ROLE, "quay.ndjson", List.of("make", "release"));

    @TempDir
    private Path folder;

    private Path file() {
        return folder.resolve("record.ndjson");
    }

    private RehearsalReader.Record read() throws IOException {
        return RehearsalReader.read(file().toString(), BucketContents::bucketOf);
    }

    private static RehearsedCall call(String key, boolean allowed, boolean isSimulated) {
        return new RehearsedCall(
                Instant.EPOCH,
                "s3",
                "PutObject",
                ROLE,
                List.of(new RehearsedCall.Need(
                        "s3:PutObject",
                        "arn:aws:s3:::quay/" + key,
                        Map.of("s3:x-amz-acl", List.of("private")),
                        allowed,
                        "nothing allows it",
                        List.of())),
                isSimulated ? 200 : 501,
                isSimulated,
                "");
    }

    /** Written line by line and read line by line, whatever their number. */
    @Test
    void readsWhatWasWritten() throws IOException {
        RehearsedUses written = new RehearsedUses(ROLE, BucketContents::bucketOf);
        try (BufferedWriter out = Files.newBufferedWriter(file())) {
            out.write(HEADER + "\n");
            for (int i = 0; i < 100_000; i++) {
                RehearsedCall call = call("pages/" + i + ".html", i % 50_000 != 7, true);
                out.write(RehearsalRecord.call(written.add(call), ROLE, call) + "\n");
            }
            out.write(RehearsalRecord.trailer(OptionalInt.of(0), written) + "\n");
        }
        RehearsalReader.Record record = read();
        assertThat(record.as()).isEqualTo("arn:aws:iam::210987654321:role/web");
        assertThat(record.isWhole()).isTrue();
        assertThat(record.uses().calls()).isEqualTo(100_000);
        assertThat(record.uses().refusedCalls()).isEqualTo(2);
        assertThat(record.uses().needed()).extracting(Needed::on).containsExactly("arn:aws:s3:::quay/pages/*");
        assertThat(record.uses().needed()).isEqualTo(written.needed());
        assertThat(record.uses().refusals()).isEqualTo(written.refusals());
    }

    /** A deployment that assumes another role is told what each of them needs. */
    @Test
    void whatAnotherRoleNeededIsItsOwn() throws IOException {
        RehearsedCall own = call("a", true, true);
        RehearsedCall other = new RehearsedCall(
                Instant.EPOCH,
                "cloudfront",
                "CreateInvalidation",
                "arn:aws:iam::210987654321:role/edge",
                List.of(new RehearsedCall.Need(
                        "cloudfront:CreateInvalidation",
                        "arn:aws:cloudfront::1:distribution/E",
                        Map.of(),
                        false,
                        "no",
                        List.of())),
                403,
                true,
                "AccessDenied");
        Files.writeString(
                file(),
                HEADER + "\n" + RehearsalRecord.call(1, ROLE, own) + "\n" + RehearsalRecord.call(2, ROLE, other)
                        + "\n");
        RehearsedUses uses = read().uses();
        assertThat(uses.needed()).extracting(Needed::action).containsExactly("s3:PutObject");
        assertThat(uses.missing()).isEmpty();
        assertThat(uses.refusedCalls()).isEqualTo(1);
        assertThat(uses.refusals()).hasSize(1);
    }

    @Test
    void whatWasNotSimulatedOrInterruptedIsNoWholeRecord() throws IOException {
        RehearsedUses uses = new RehearsedUses(ROLE, BucketContents::bucketOf);
        RehearsedCall call = call("a", true, false);
        String line = RehearsalRecord.call(uses.add(call), ROLE, call);
        String end = RehearsalRecord.trailer(OptionalInt.empty(), uses);
        Files.writeString(file(), HEADER + "\n" + line + "\n" + end + "\n");
        assertThat(read().hasEnd()).isTrue();
        assertThat(read().isWhole()).isFalse();
        RehearsedCall simulated = call("a", true, true);
        Files.writeString(file(), HEADER + "\n" + RehearsalRecord.call(1, ROLE, simulated) + "\n{\"n\":2,");
        RehearsalReader.Record cut = read();
        assertThat(cut.uses().calls()).isEqualTo(1);
        assertThat(cut.isWhole()).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"n\":1|line 2 is no JSON",
                "{\"n\":1,\"service\":\"s3\",\"answer\":200,\"needs\":[{\"action\":\"s3:GetObject\"}]}|line 2 names a need without an action or a resource",
                "{\"n\":1,\"service\":\"s3\",\"answer\":200,\"needs\":[{\"action\":\"* or\",\"on\":\"x\"}]}|line 2 names a need without an action or a resource",
                "{\"n\":1}|line 2 is no call of a rehearsal"
            })
    void saysWhereARecordIsBroken(String line, String problem) throws IOException {
        Files.writeString(file(), HEADER + "\n" + line + "\n{}\n");
        assertThatThrownBy(() -> read())
                .isInstanceOf(IOException.class)
                .hasMessageEndingWith(problem)
                .hasMessageStartingWith(file().toString());
    }

    @Test
    void saysWhatIsNoRecord() throws IOException {
        Files.writeString(file(), "");
        assertThatThrownBy(() -> read()).hasMessageContaining("is not the record");
        Files.writeString(file(), "{\"rehearsal\":2,\"as\":\"x\"}\n");
        assertThatThrownBy(() -> read()).hasMessageContaining("another version");
        assertThatThrownBy(() -> RehearsalReader.read(folder.resolve("none").toString(), BucketContents::bucketOf))
                .hasMessageContaining("there is no such file");
    }
}
