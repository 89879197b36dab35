package warden.gather.live;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.survey.SurveyException;

class UnfinishedSurveyTest {
    private static final String HEADER = "{\"survey\":1,\"provider\":\"aws\",\"account\":\"210987654321\"}\n";
    private static final String CORS =
            "{\"aspect\":\"bucket-cors\",\"of\":\"arn:aws:s3:::quay\",\"absent\":\"NoSuchCORSConfiguration\"}\n";
    private static final String REFUSED =
            "{\"aspect\":\"bucket-acl\",\"of\":\"arn:aws:s3:::quay\",\"unread\":{\"code\":\"AccessDenied\"}}\n";
    private static final String ACL = "{\"aspect\":\"bucket-acl\",\"of\":\"arn:aws:s3:::quay\",\"found\":{}}\n";

    @TempDir
    private Path folder;

    private Path file(String text) throws IOException {
        return Files.writeString(folder.resolve("survey.ndjson"), text);
    }

    private static String page(String next) {
        return "{\"aspect\":\"bucket-objects\",\"of\":\"arn:aws:s3:::quay\",\"found\":{\"Contents\":[]," + next
                + "}}\n";
    }

    @Test
    void knowsWhatIsThere() throws Exception {
        UnfinishedSurvey survey = UnfinishedSurvey.reopen(file(HEADER + CORS));
        assertThat(survey.account()).isEqualTo("210987654321");
        assertThat(survey.known()).containsExactly("bucket-cors arn:aws:s3:::quay");
    }

    @Test
    void asksAgainWhatWasRefusedLast() throws Exception {
        assertThat(UnfinishedSurvey.reopen(file(HEADER + CORS + REFUSED)).known())
                .containsExactly("bucket-cors arn:aws:s3:::quay");
        assertThat(UnfinishedSurvey.reopen(file(HEADER + REFUSED + ACL)).known())
                .containsExactly("bucket-acl arn:aws:s3:::quay");
        assertThat(UnfinishedSurvey.reopen(file(HEADER + ACL + REFUSED)).known())
                .isEmpty();
    }

    /** A list that is granted now leaves no line of its own, so that a refusal which stayed would stand for ever. */
    @Test
    void takesOutWhatWasRefused() throws Exception {
        String list =
                "{\"aspect\":\"certificate\",\"of\":\"arn:aws:acm:us-east-1:210987654321:certificate/*\",\"unread\":{\"code\":\"AccessDenied\"}}\n";
        Path file = file(HEADER + list + CORS + REFUSED);
        UnfinishedSurvey.reopen(file);
        assertThat(Files.readString(file)).isEqualTo(HEADER + CORS);
    }

    @Test
    void cutsOffHalfALine() throws Exception {
        Path file = file(HEADER + CORS + ACL.substring(0, 30));
        assertThat(UnfinishedSurvey.reopen(file).known()).containsExactly("bucket-cors arn:aws:s3:::quay");
        assertThat(Files.readString(file)).isEqualTo(HEADER + CORS);
    }

    @Test
    void cutsOffHalfAListingOfTheOtherProvider() throws Exception {
        String header = "{\"survey\":1,\"provider\":\"azure\",\"account\":\"0c5f7a52-3b1d-4e57-9a0e-6f2d1b7c8e90\"}\n";
        String lock = "{\"aspect\":\"lock-list\",\"of\":\"/subscriptions/s\",\"found\":{\"value\":[]}}\n";
        String half = "{\"aspect\":\"dns-zone-list\",\"of\":\"/subscriptions/s\",\"found\":{\"value\":[],"
                + "\"nextLink\":\"https://management.azure.com/more\"}}\n";
        Path file = file(header + lock + half);
        assertThat(UnfinishedSurvey.reopen(file).known()).containsExactly("lock-list /subscriptions/s");
        assertThat(Files.readString(file)).isEqualTo(header + lock);
    }

    @Test
    void cutsOffHalfAListing() throws Exception {
        String more = page("\"IsTruncated\":true,\"NextContinuationToken\":\"x\"");
        Path file = file(HEADER + CORS + more + more);
        assertThat(UnfinishedSurvey.reopen(file).known()).containsExactly("bucket-cors arn:aws:s3:::quay");
        assertThat(Files.readString(file)).isEqualTo(HEADER + CORS);
        String whole = HEADER + more + page("\"IsTruncated\":false") + CORS;
        assertThat(UnfinishedSurvey.reopen(file(whole)).known())
                .containsExactlyInAnyOrder("bucket-objects arn:aws:s3:::quay", "bucket-cors arn:aws:s3:::quay");
        assertThat(Files.readString(folder.resolve("survey.ndjson"))).isEqualTo(whole);
    }

    @Test
    void leavesWhatIsBrokenElsewhereAlone() throws Exception {
        String broken = HEADER + "{oops\n" + CORS;
        Path file = file(broken);
        assertThatThrownBy(() -> UnfinishedSurvey.reopen(file))
                .isInstanceOf(SurveyException.class)
                .hasMessageContaining(":2");
        assertThat(Files.readString(file)).isEqualTo(broken);
    }
}
