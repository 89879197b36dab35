package warden.gather.azure;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.azure.survey.AzureAspects;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.gather.aws.AwsAnswerForm;
import warden.gather.folder.SavedAnswers;

/** Folders of what the second provider's command line printed. */
class AzureAnswersTest {
    private static final SavedAnswers READER = new SavedAnswers(List.of(new AzureAnswerForm(), new AwsAnswerForm()));

    private static final Path DEMO = Path.of("../demo/heron-sound-quayside.ndjson");
    private static final Instant NOW = Instant.parse("2026-11-24T00:00:00Z");
    private static final String ACCOUNT =
            "/subscriptions/s/resourceGroups/g/providers/Microsoft.Storage/storageAccounts/a";

    @TempDir
    private Path folder;

    private static Set<String> findings(SurveyHeader header, List<SurveyLine> lines) {
        Survey.Collector collector = new Survey.Collector(AzureAspects.TABLE);
        lines.forEach(collector::add);
        AuditContext context = new AuditContext(
                Providers.open(List.of(collector.toSurvey(header)), SiteFile.empty(), Optional.of(NOW)),
                NOW,
                List.of(),
                Optional.empty());
        return Audit.of(context, CheckCatalogue.asked(), card -> true).findings().stream()
                .map(finding -> finding.card().id() + " " + finding.subject())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private void save(String aspect, String of, String end, String text) throws Exception {
        String name = URLEncoder.encode(of, StandardCharsets.UTF_8)
                .replace("+", "%20")
                .replace("*", "%2A");
        Files.writeString(folder.resolve(aspect + "__" + name + end), text);
    }

    @Test
    void aFolderOfTheDemosAnswersIsAuditedLikeTheDemo() throws Exception {
        List<SurveyLine> lines = new ArrayList<>();
        SurveyHeader header = SurveyReader.read(new ByteArrayInputStream(Files.readAllBytes(DEMO)), "demo", lines::add);
        for (SurveyLine line : lines) {
            if (line.outcome() == SurveyLine.Outcome.FOUND) {
                save(line.aspect(), line.of(), ".json", line.body());
            } else {
                save(
                        line.aspect(),
                        line.of(),
                        ".error",
                        "ERROR: Not Found({\"error\":{\"code\":\"" + line.body() + "\"}})");
            }
        }
        Files.writeString(folder.resolve(".taken-by"), header.takenBy() + "\n");
        SavedAnswers.Gathered gathered = READER.read(folder, "2026-11-20T00:00:00Z");
        assertThat(gathered.header().provider()).isEqualTo("azure");
        assertThat(gathered.header().account()).isEqualTo(header.account());
        assertThat(findings(gathered.header(), gathered.readings()))
                .isEqualTo(findings(header, lines))
                .isNotEmpty();
    }

    private String only() throws SurveyException {
        return READER.read(folder, "").readings().get(0).body();
    }

    @Test
    void whatTheCommandForOneThingPrintsIsLifted() throws Exception {
        save(
                "storage-account",
                ACCOUNT,
                ".json",
                "{\"id\":\"" + ACCOUNT + "\",\"name\":\"a\",\"kind\":\"StorageV2\",\"enableHttpsTrafficOnly\":true,"
                        + "\"networkRuleSet\":{\"defaultAction\":\"Allow\"}}");
        assertThat(only())
                .contains("\"kind\":\"StorageV2\"")
                .contains(
                        "\"properties\":{\"supportsHttpsTrafficOnly\":true,\"networkAcls\":{\"defaultAction\":\"Allow\"}}");
    }

    @Test
    void aBareListIsWhole() throws Exception {
        save(
                "role-assignment-list",
                "/subscriptions/s",
                ".json",
                "[{\"id\":\"x\",\"principalId\":\"p\",\"scope\":\"/\"}]");
        assertThat(only())
                .isEqualTo("{\"value\":[{\"id\":\"x\",\"properties\":{\"principalId\":\"p\",\"scope\":\"/\"}}]}");
    }

    @Test
    void blobsAreTranslated() throws Exception {
        save(
                "container-blobs",
                ACCOUNT + "/blobServices/default/containers/$web",
                ".json",
                "<?xml version=\"1.0\"?><EnumerationResults><Blobs><Blob><Name Encoded=\"true\">a%20b.html</Name><Properties>"
                        + "<Last-Modified>Wed, 18 Nov 2026 15:20:05 GMT</Last-Modified><Content-Length>12</Content-Length>"
                        + "<Content-Type>text/html</Content-Type><Cache-Control/></Properties></Blob></Blobs>"
                        + "<NextMarker>m</NextMarker></EnumerationResults>");
        assertThat(only())
                .isEqualTo(
                        "{\"value\":[{\"name\":\"a b.html\",\"properties\":{\"lastModified\":\"2026-11-18T15:20:05Z\","
                                + "\"contentLength\":12,\"contentType\":\"text/html\",\"cacheControl\":null}}],\"nextMarker\":\"m\"}");
    }

    @Test
    void theWebsitesSettingsAreTranslated() throws Exception {
        save(
                "static-website",
                ACCOUNT + "/blobServices/default",
                ".json",
                "<StorageServiceProperties><Cors/><StaticWebsite><Enabled>true</Enabled><IndexDocument>index.html</IndexDocument>"
                        + "</StaticWebsite></StorageServiceProperties>");
        assertThat(only()).isEqualTo("{\"enabled\":true,\"indexDocument\":\"index.html\"}");
    }

    @Test
    void refusalsAreUnreadAndAbsenceIsAbsence() throws Exception {
        save(
                "lock-list",
                "/subscriptions/s",
                ".error",
                "ERROR: Forbidden({\"error\":{\"code\":\"AuthorizationFailed\"}})");
        assertThat(READER.read(folder, "").readings().get(0).outcome()).isEqualTo(SurveyLine.Outcome.UNREAD);
        Files.delete(Files.list(folder).findFirst().orElseThrow());
        save(
                "management-policy",
                ACCOUNT,
                ".error",
                "ERROR: Not Found({\"error\":{\"code\":\"ManagementPolicyNotFound\"}})");
        assertThat(READER.read(folder, "").readings().get(0).outcome()).isEqualTo(SurveyLine.Outcome.ABSENT);
    }

    @Test
    void secretsAreLeftOut() throws Exception {
        save(
                "application",
                "applications/a",
                ".json",
                "{\"id\":\"a\",\"passwordCredentials\":[{\"keyId\":\"k\",\"hint\":\"Xy7\",\"secretText\":\"s\"}]}");
        assertThat(only()).isEqualTo("{\"id\":\"a\",\"passwordCredentials\":[{\"keyId\":\"k\"}]}");
    }

    @Test
    void pagesFollowEachOther() throws Exception {
        String zone = "/subscriptions/s/resourceGroups/g/providers/Microsoft.Network/dnszones/z";
        save(
                "dns-records",
                zone,
                ".json",
                "{\"value\":[{\"id\":\"1\",\"properties\":{}}],\"nextLink\":\"https://x/\"}");
        save("dns-records", zone, ".page002.json", "{\"value\":[{\"id\":\"2\",\"properties\":{}}]}");
        List<SurveyLine> lines = READER.read(folder, "").readings();
        assertThat(lines).extracting(SurveyLine::aspect).containsExactly("dns-records", "dns-records");
        assertThat(AzureAspects.TABLE.saysMoreFollows(lines.get(0))).isTrue();
        assertThat(AzureAspects.TABLE.saysMoreFollows(lines.get(1))).isFalse();
    }
}
