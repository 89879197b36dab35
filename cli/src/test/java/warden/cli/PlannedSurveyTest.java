package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.Map;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import warden.cli.Program.Run;

/** Surveys that are made of plans, states and state files. */
class PlannedSurveyTest extends DescribedSurveys {
    private static String plan(String resources, String changes, String configuration) {
        return "{\"format_version\":\"1.2\",\"planned_values\":{\"root_module\":{\"resources\":[" + resources
                + "]}},\"resource_changes\":[" + changes + "],\"configuration\":{\"root_module\":{\"resources\":["
                + configuration + "]}}}";
    }

    private static String planned(String address, String type, String values) {
        return "{\"address\":\"" + address + "\",\"mode\":\"managed\",\"type\":\"" + type + "\",\"values\":" + values
                + "}";
    }

    private static String change(String address, String type, String action, String before, String unknown) {
        return "{\"address\":\"" + address + "\",\"type\":\"" + type + "\",\"change\":{\"actions\":[\"" + action
                + "\"],\"before\":" + before + ",\"after_unknown\":" + unknown + "}}";
    }

    @Test
    void aPlanOfWhichAPartIsBrokenIsRefused() throws IOException {
        Run run = refused(
                "{\"format_version\":\"1.2\",\"planned_values\":{\"root_module\":tru},\"resource_changes\":[]}");
        assertThat(run.code()).isEqualTo(3);
        assertThat(run.err()).contains("its member planned_values is not valid JSON");
    }

    /** An edge that is taken away is not one that nobody read. */
    @Test
    void whatAPlanTakesAwayLeavesTheAccountsLists() throws IOException {
        String edge = "arn:aws:cloudfront::210987654321:distribution/E2WQ7HERONWWW";
        Map<String, JsonNode> read = read(
                plan(
                        "",
                        change(
                                "aws_cloudfront_distribution.www",
                                "aws_cloudfront_distribution",
                                "delete",
                                "{\"id\":\"E2WQ7HERONWWW\",\"arn\":\"" + edge + "\"}",
                                "{}"),
                        ""),
                "plan.json",
                "--beside",
                Program.DEMO.toString());
        assertThat(read).doesNotContainKey("distribution " + edge);
        assertThat(read.get("distribution-list 210987654321").toString())
                .doesNotContain("E2WQ7HERONWWW")
                .contains("E3KD1TIMETABLE");
    }

    @Test
    void aPlanTellsWhatItMakesAndWhatItTakesAway() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-planned\"}") + ","
                        + planned(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "{\"policy\":\"{\\\"Statement\\\":[]}\"}")
                        + "," + planned("aws_sns_topic.x", "aws_sns_topic", "{}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "create", "null", "{\"id\":true}") + ","
                        + change(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "create",
                                "null",
                                "{\"bucket\":true}")
                        + ","
                        + change(
                                "aws_s3_bucket_public_access_block.old",
                                "aws_s3_bucket_public_access_block",
                                "delete",
                                "{\"bucket\":\"heronferry-www-content\"}",
                                "{}"),
                "{\"address\":\"aws_s3_bucket_policy.site\",\"expressions\":{\"bucket\":{\"references\":"
                        + "[\"aws_s3_bucket.site.id\",\"aws_s3_bucket.site\"]}}}");
        Map<String, JsonNode> read = read(text, "plan.json", "--beside", Program.DEMO.toString());
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-planned").has("found"))
                .isTrue();
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-planned")
                        .toString())
                .contains("true");
        assertThat(read.get("bucket-public-access arn:aws:s3:::heronferry-www-content")
                        .has("absent"))
                .isTrue();
        assertThat(read.get("bucket-list 210987654321").toString()).contains("heronferry-planned");
    }

    @Test
    void whatAPlanLeavesOpenIsUnread() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-planned\"}") + ","
                        + planned(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "{\"bucket\":\"heronferry-planned\"}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "create", "null", "{}") + ","
                        + change(
                                "aws_s3_bucket_policy.site",
                                "aws_s3_bucket_policy",
                                "create",
                                "null",
                                "{\"policy\":true}"),
                "");
        Map<String, JsonNode> read = read(text, "plan.json");
        assertThat(read.get("bucket-policy arn:aws:s3:::heronferry-planned")
                        .path("unread")
                        .path("message")
                        .asString())
                .contains("known only after the apply");
    }

    /** A bucket that is there already, and whose block no resource manages, may be wide open. */
    @Test
    void anExistingBucketOfAPlanHasNoDefaults() throws IOException {
        String text = plan(
                planned("aws_s3_bucket.site", "aws_s3_bucket", "{\"bucket\":\"heronferry-old\"}"),
                change("aws_s3_bucket.site", "aws_s3_bucket", "no-op", "{\"bucket\":\"heronferry-old\"}", "{}"),
                "");
        assertThat(read(text, "plan.json").keySet()).doesNotContain("bucket-public-access arn:aws:s3:::heronferry-old");
    }

    @Test
    void aStateFileTellsWhatIsThere() throws IOException {
        String text = "{\"version\":4,\"terraform_version\":\"1.9.0\",\"resources\":[{\"mode\":\"managed\",\"type\":"
                + "\"aws_s3_bucket_versioning\",\"name\":\"v\",\"instances\":[{\"attributes\":{\"bucket\":\"b\","
                + "\"versioning_configuration\":[{\"status\":\"Enabled\"}]}}]},{\"mode\":\"managed\",\"type\":"
                + "\"aws_s3_bucket_policy\",\"name\":\"p\",\"instances\":[{\"attributes\":{\"bucket\":\"b\",\"policy\":"
                + "\"{}\"},\"sensitive_attributes\":[[{\"type\":\"get_attr\",\"value\":\"policy\"}]]}]}]}";
        Map<String, JsonNode> read = read(text, "terraform.tfstate");
        assertThat(read.get("bucket-versioning arn:aws:s3:::b").toString()).contains("Enabled");
        assertThat(read.get("bucket-policy arn:aws:s3:::b").toString()).contains("marked as sensitive");
    }
}
