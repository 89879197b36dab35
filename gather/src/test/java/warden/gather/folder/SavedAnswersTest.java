package warden.gather.folder;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.gather.aws.AwsAnswerForm;
import warden.gather.azure.AzureAnswerForm;

class SavedAnswersTest {
    private static final SavedAnswers READER = new SavedAnswers(List.of(new AzureAnswerForm(), new AwsAnswerForm()));

    @TempDir
    private Path folder;

    private void save(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name), text);
    }

    private List<SurveyLine> read() throws SurveyException {
        return READER.read(folder, "2026-11-24T08:00:00Z").readings();
    }

    @Test
    void readsAnswersBySubject() throws Exception {
        save("bucket-list__210987654321.json", "{\"Buckets\":[{\"Name\":\"quay\"}]}");
        save("bucket-policy__arn%3Aaws%3As3%3A%3A%3Aquay.json", "{\"Policy\":\"{}\"}");
        save("README.txt", "not an answer");
        assertThat(READER.read(folder, "2026-11-24T08:00:00Z").header().account())
                .isEqualTo("210987654321");
        assertThat(read()).extracting(SurveyLine::aspect).containsExactly("bucket-list", "bucket-policy");
        assertThat(read().get(1).of()).isEqualTo("arn:aws:s3:::quay");
        assertThat(read().get(1).call()).isEqualTo("s3:GetBucketPolicy");
    }

    @Test
    void refusesWhatContradictsItself() throws Exception {
        save("bucket-list__210987654321.json", "{\"Buckets\":[]}");
        assertThat(READER.read(folder, "2026-11-24T08:00:00Z").isWhole()).isFalse();
        save(".complete", "");
        assertThat(READER.read(folder, "2026-11-24T08:00:00Z").isWhole()).isTrue();
        save("bucket-list__210987654321.error", "An error occurred (AccessDenied) when calling it: x");
        assertThatThrownBy(this::read).hasMessageContaining("an answer and a refusal for the same question");
        Files.delete(folder.resolve("bucket-list__210987654321.error"));
        save("account-public-access__109876543210.json", "{}");
        assertThatThrownBy(this::read).hasMessageContaining("answers of the accounts 109876543210 and 210987654321");
        Files.delete(folder.resolve("account-public-access__109876543210.json"));
        save("bucket-policy__100%ZZ.json", "{}");
        assertThatThrownBy(this::read).hasMessageContaining("its name is no percent-encoding of a subject");
    }

    @Test
    void refusesAFolderOfTwoProviders() throws Exception {
        save("bucket-list__210987654321.json", "{\"Buckets\":[]}");
        save("subscription__%2Fsubscriptions%2Fs1.json", "{\"id\":\"/subscriptions/s1\"}");
        assertThatThrownBy(this::read).hasMessageContaining("answers of the accounts 210987654321 and s1");
        Files.delete(folder.resolve("bucket-list__210987654321.json"));
        save("storage-account-list__%2FSubscriptions%2Fs2%2FresourceGroups%2Frg.json", "[]");
        assertThatThrownBy(this::read).hasMessageContaining("answers of the accounts s2 and s1");
    }

    @Test
    void takesAnEmptyAnswerForAnEmptyDocument() throws Exception {
        // The command line prints nothing for settings that were never made.
        save("bucket-versioning__arn%3Aaws%3As3%3A%3A%3Aquay.json", "\n");
        assertThat(read()).singleElement().satisfies(line -> {
            assertThat(line.outcome()).isEqualTo(Outcome.FOUND);
            assertThat(line.body()).isEqualTo("{}");
        });
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "bucket-policy | An error occurred (NoSuchBucketPolicy) when calling the GetBucketPolicy operation: none | ABSENT | NoSuchBucketPolicy",
                "bucket-policy | An error occurred (AccessDenied) when calling the GetBucketPolicy operation: Denied | UNREAD | AccessDenied",
                "bucket-cors | An error occurred (NoSuchCORSConfiguration) when calling the GetBucketCors operation: x | ABSENT | NoSuchCORSConfiguration",
                // The code of another aspect's absence says nothing here.
                "bucket-policy | An error occurred (NoSuchCORSConfiguration) when calling it: x | UNREAD | NoSuchCORSConfiguration",
                "object | An error occurred (404) when calling the HeadObject operation: Not Found | ABSENT | 404",
                "object | An error occurred (403) when calling the HeadObject operation: Forbidden | UNREAD | 403",
                "bucket-policy | Could not connect to the endpoint URL | UNREAD | Failed"
            })
    void tellsAbsentFromRefused(String aspect, String said, Outcome outcome, String code) throws Exception {
        save(aspect + "__arn%3Aaws%3As3%3A%3A%3Aquay.error", "\n" + said + "\n");
        assertThat(read()).singleElement().satisfies(line -> {
            assertThat(line.outcome()).isEqualTo(outcome);
            assertThat(outcome == Outcome.ABSENT ? line.body() : line.obstacle())
                    .isEqualTo(code);
        });
    }

    @Test
    void takesTheIdentitiesApart() throws Exception {
        save(
                "iam-details__210987654321.json",
                "{\"UserDetailList\":[{\"Arn\":\"arn:aws:iam::210987654321:user/anna\",\"UserName\":\"anna\"}],"
                        + "\"GroupDetailList\":[],\"RoleDetailList\":[{\"Arn\":\"arn:aws:iam::210987654321:role/r\","
                        + "\"RoleName\":\"r\"}],\"Policies\":[]}");
        assertThat(read())
                .extracting(line -> line.aspect() + " " + line.of())
                .containsExactlyInAnyOrder(
                        "iam-user arn:aws:iam::210987654321:user/anna", "iam-role arn:aws:iam::210987654321:role/r");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"<html></html>", "[1,2]", "{\"a\":", "word"})
    void namesAFileThatIsNoAnswer(String text) throws Exception {
        save("bucket-list__210987654321.json", text);
        assertThatThrownBy(this::read)
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("bucket-list__210987654321.json")
                .hasMessageContaining("take the answer again");
    }

    @Test
    void wantsAFolderWithAnswers() throws Exception {
        assertThatThrownBy(this::read).isInstanceOf(SurveyException.class).hasMessageContaining("no saved answers");
        assertThatThrownBy(() -> READER.read(folder.resolve("none"), ""))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining("no such folder");
        Files.write(folder.resolve("bucket-list__1.json"), new byte[] {(byte) 0xc3, 0x28});
        assertThatThrownBy(this::read).isInstanceOf(SurveyException.class).hasMessageContaining("UTF-8");
    }

    /** The script only reads: every call that it makes is one that gets, lists, describes or heads. */
    @Test
    void theScriptOnlyReads() {
        assertThat(new AwsAnswerForm()
                        .script()
                        .text()
                        .lines()
                        .filter(line -> line.contains("call ") || line.contains("ask ")))
                .isNotEmpty()
                .allMatch(line -> line.strip().startsWith("#")
                        || line.contains("()")
                        || line.matches(".*\\b(get|list|describe|head)-[a-z0-9-]+.*")
                        || line.contains("get-caller-identity"));
        assertThat(new AwsAnswerForm().script().text())
                .doesNotContain("put-", "delete-", "create-", "update-", "rm -r");
    }
}
