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
import warden.core.pipeline.Needed;
import warden.core.rehearse.RehearsalRecord;
import warden.core.rehearse.RehearsedCall;
import warden.core.rehearse.RehearsedUses;

class RehearsalReaderTest {
    private static final String HEADER = RehearsalRecord.header(
            "2026-11-24T00:00:00Z", "arn:aws:iam::210987654321:role/web", "quay.ndjson", List.of("make", "release"));

    @TempDir
    private Path folder;

    private Path file() {
        return folder.resolve("record.ndjson");
    }

    private static RehearsedCall call(String key, boolean allowed, boolean isSimulated) {
        return new RehearsedCall(
                Instant.EPOCH,
                "s3",
                "PutObject",
                "",
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
        RehearsedUses written = new RehearsedUses();
        try (BufferedWriter out = Files.newBufferedWriter(file())) {
            out.write(HEADER + "\n");
            for (int i = 0; i < 100_000; i++) {
                RehearsedCall call = call("pages/" + i + ".html", i % 50_000 != 7, true);
                out.write(RehearsalRecord.call(written.add(call), call) + "\n");
            }
            out.write(RehearsalRecord.trailer(OptionalInt.of(0), written) + "\n");
        }
        RehearsalReader.Record record = RehearsalReader.read(file().toString());
        assertThat(record.as()).isEqualTo("arn:aws:iam::210987654321:role/web");
        assertThat(record.isWhole()).isTrue();
        assertThat(record.uses().calls()).isEqualTo(100_000);
        assertThat(record.uses().refusedCalls()).isEqualTo(2);
        assertThat(record.uses().needed()).extracting(Needed::on).containsExactly("arn:aws:s3:::quay/pages/*");
        assertThat(record.uses().needed()).isEqualTo(written.needed());
        assertThat(record.uses().refusals()).isEqualTo(written.refusals());
    }

    @Test
    void whatWasNotSimulatedOrInterruptedIsNoWholeRecord() throws IOException {
        RehearsedUses uses = new RehearsedUses();
        RehearsedCall call = call("a", true, false);
        String line = RehearsalRecord.call(uses.add(call), call);
        String end = RehearsalRecord.trailer(OptionalInt.empty(), uses);
        Files.writeString(file(), HEADER + "\n" + line + "\n" + end + "\n");
        assertThat(RehearsalReader.read(file().toString()).hasEnd()).isTrue();
        assertThat(RehearsalReader.read(file().toString()).isWhole()).isFalse();
        RehearsedCall simulated = call("a", true, true);
        Files.writeString(file(), HEADER + "\n" + RehearsalRecord.call(1, simulated) + "\n{\"n\":2,");
        RehearsalReader.Record cut = RehearsalReader.read(file().toString());
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
        assertThatThrownBy(() -> RehearsalReader.read(file().toString()))
                .isInstanceOf(IOException.class)
                .hasMessageEndingWith(problem)
                .hasMessageStartingWith(file().toString());
    }

    @Test
    void saysWhatIsNoRecord() throws IOException {
        Files.writeString(file(), "");
        assertThatThrownBy(() -> RehearsalReader.read(file().toString())).hasMessageContaining("is not the record");
        Files.writeString(file(), "{\"rehearsal\":2,\"as\":\"x\"}\n");
        assertThatThrownBy(() -> RehearsalReader.read(file().toString())).hasMessageContaining("another version");
        assertThatThrownBy(() -> RehearsalReader.read(folder.resolve("none").toString()))
                .hasMessageContaining("there is no such file");
    }
}
