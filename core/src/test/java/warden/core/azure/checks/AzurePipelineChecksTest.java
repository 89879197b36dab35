package warden.core.azure.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.azure.fixture.AzureSurvey.ACC;
import static warden.core.azure.fixture.AzureSurvey.ENDPOINT;
import static warden.core.azure.fixture.AzureSurvey.HOST;
import static warden.core.azure.fixture.AzureSurvey.PUBLISHER;
import static warden.core.azure.fixture.AzureSurvey.SERVICE;
import static warden.core.azure.fixture.AzureSurvey.SUB;
import static warden.core.azure.fixture.AzureSurvey.WEB;
import static warden.core.azure.fixture.AzureSurvey.assignment;
import static warden.core.azure.fixture.AzureSurvey.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import warden.core.CheckCatalogue;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.azure.fixture.AzureSurvey;
import warden.core.fixture.MendLaw;
import warden.core.fixture.PipelineBuilder;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.core.site.SiteFile;
import warden.core.trim.Trimming;

/** Pipelines that publish to a web container: each check flagged, near miss and unread; and what they need. */
class AzurePipelineChecksTest {
    private static final String BLOBS = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/";
    private static final String PURGE = "Microsoft.Cdn/profiles/afdEndpoints/Purge/action";
    private static final String CONTENT = "11111111-0000-4000-8000-00000000c001";
    private static final String PURGES = "11111111-0000-4000-8000-00000000c002";
    private static final String KEYS = "11111111-0000-4000-8000-00000000c003";
    private static final String CLIENT = "11111111-2222-4333-8444-555555555555";
    private static final String OPEN = "'networkAcls':{'defaultAction':'Allow'},'allowSharedKeyAccess':true";
    private static final String MADE =
            ",'keyCreationTime':{'key1':'2025-01-01T00:00:00Z','key2':'2026-11-01T00:00:00Z'}";

    private static AzureSurvey survey(String account, String... more) {
        AzureSurvey survey = AzureSurvey.healthy()
                .account(OPEN + account)
                .definitions(
                        definition(
                                CONTENT,
                                "content",
                                "",
                                "",
                                "'" + BLOBS + "read','" + BLOBS + "write','" + BLOBS + "delete'"),
                        definition(PURGES, "purge", "'" + PURGE + "'", "", ""),
                        definition(
                                KEYS,
                                "keys",
                                "'Microsoft.Storage/storageAccounts/read','Microsoft.Storage/storageAccounts/listKeys/action'",
                                "",
                                ""));
        List<String> all = new ArrayList<>(List.of(more));
        all.add(assignment(CONTENT, PUBLISHER, "ServicePrincipal", WEB, ""));
        survey.assignments(all.toArray(String[]::new));
        survey.list("member-of", "servicePrincipals/" + PUBLISHER);
        survey.found(
                "service-principal",
                "servicePrincipals/" + PUBLISHER,
                "{'id':'" + PUBLISHER + "','appId':'" + CLIENT
                        + "','displayName':'quaysidewifi-publisher','servicePrincipalType':'Application'}");
        survey.found(
                "application",
                "applications/app",
                "{'id':'app','appId':'" + CLIENT
                        + "','passwordCredentials':[{'keyId':'k','startDateTime':'2026-10-01T00:00:00Z','endDateTime':'2027-01-10T00:00:00Z'}]}");
        return survey.list("federated-credential-list", "applications/app");
    }

    private static AzureSurvey survey() {
        return survey("", assignment(PURGES, PUBLISHER, "ServicePrincipal", ENDPOINT, ""));
    }

    private static PipelineBuilder pipeline(Kind kind, String name) {
        return PipelineBuilder.aPipeline().withToolsOf("azure").with(kind, name);
    }

    private static PipelineBuilder byToken() {
        return pipeline(Kind.PRINCIPAL_BY_TOKEN, CLIENT);
    }

    private static Target at(String account, String container) {
        return new Target(PipelineBuilder.term(account), term(container), PipelineValue.of(""));
    }

    private static PipelineValue term(String text) {
        return text.equals("$web") ? PipelineValue.of(text) : PipelineBuilder.term(text);
    }

    private static Operation upload(String account, String container, boolean deletes) {
        return PipelineBuilder.upload("dist", "x", "", true, deletes, Optional.empty())
                .to(at(account, container));
    }

    private static Operation purge(String endpoint) {
        return new Operation.Invalidate(PipelineBuilder.term(endpoint), false);
    }

    private static final String OWN_ENDPOINT = ENDPOINT.substring(ENDPOINT.indexOf("profiles/"));

    private static Pipeline whole() {
        return byToken()
                .step(new Operation.Build())
                .step(upload("quaysidewifi", "$web", true))
                .step(purge(OWN_ENDPOINT))
                .build();
    }

    private static void flags(String check, Severity severity, String says, AzureSurvey survey, Pipeline pipeline) {
        Audit audit = survey.audit(SiteFile.empty(), pipeline);
        List<Finding> findings = audit.findings().stream()
                .filter(finding -> finding.card().id().equals(check))
                .toList();
        assertThat(findings).as(check + " flags").hasSize(1);
        assertThat(findings.get(0).severity()).as(check).isEqualTo(severity);
        assertThat(findings.get(0).says()).contains(says);
        assertThat(findings.get(0).site()).as("the site of " + check).contains(HOST);
        MendLaw.holds(audit, findings.get(0), CheckCatalogue.asked());
    }

    private static void silent(String check, AzureSurvey survey, Pipeline pipeline) {
        Audit audit = survey.audit(SiteFile.empty(), pipeline);
        assertThat(audit.findings())
                .as(check + " is silent")
                .noneMatch(finding -> finding.card().id().equals(check));
        assertThat(audit.unknowns())
                .as(check + " is not open")
                .noneMatch(answer -> answer.card().id().equals(check));
    }

    private static void unknown(String check, AzureSurvey survey, Pipeline pipeline) {
        Audit audit = survey.audit(SiteFile.empty(), pipeline);
        assertThat(audit.findings())
                .as(check + " is silent")
                .noneMatch(finding -> finding.card().id().equals(check));
        assertThat(audit.unknowns())
                .as(check + " is open")
                .anyMatch(answer -> answer.card().id().equals(check));
    }

    @Test
    void aPipelineThatPublishesRightIsSilent() {
        Audit audit = survey().audit(SiteFile.empty(), whole());
        assertThat(audit.findings().stream().map(finding -> finding.card().id()))
                .containsExactly("account-key-access", "open-endpoint-around-cdn");
        assertThat(audit.unknowns()).noneMatch(answer -> answer.card().id().startsWith("pipeline-"));
    }

    @Test
    void whereItPublishes() {
        flags(
                "pipeline-wrong-target",
                Severity.HIGH,
                "the storage account quaysidewfi, which is in no surveyed subscription",
                survey(),
                byToken()
                        .text("to quaysidewifi")
                        .step(upload("quaysidewfi", "$web", false))
                        .build());
        flags(
                "pipeline-wrong-target",
                Severity.HIGH,
                "the container quaysidewifi/web; the site is served from $web",
                survey(),
                byToken()
                        .text("quaysidewifi")
                        .step(upload("quaysidewifi", "web", false))
                        .build());
        flags(
                "pipeline-wrong-target",
                Severity.HIGH,
                "which is in no surveyed subscription (there are profiles/",
                survey(),
                byToken()
                        .step(upload("quaysidewifi", "$web", true))
                        .step(purge("profiles/front/afdEndpoints/other"))
                        .build());
        silent("pipeline-wrong-target", survey(), whole());
        unknown(
                "pipeline-wrong-target",
                survey(),
                byToken()
                        .text("quaysidewifi")
                        .step(upload("$ACCOUNT", "$web", true))
                        .build());
        unknown(
                "pipeline-wrong-target",
                survey().unread("storage-account-list", SUB),
                byToken().step(upload("elsewhere", "$web", true)).build());
    }

    @Test
    void whatTheEdgeKeeps() {
        flags(
                "pipeline-no-invalidation",
                Severity.MEDIUM,
                "never purges it",
                survey(),
                byToken().step(upload("quaysidewifi", "$web", true)).build());
        silent("pipeline-no-invalidation", survey(), whole());
        unknown(
                "pipeline-no-invalidation",
                survey(),
                byToken()
                        .step(upload("quaysidewifi", "$web", true))
                        .step(purge("$ENDPOINT"))
                        .build());
        unknown(
                "pipeline-no-invalidation",
                survey(),
                byToken()
                        .step(upload("quaysidewifi", "$web", true))
                        .step(new Operation.NotUnderstood("the program purge-all is not known"))
                        .build());
    }

    @Test
    void whatCannotBeBroughtBack() {
        String off = "{'id':'" + SERVICE
                + "','properties':{'deleteRetentionPolicy':{'enabled':false},'isVersioningEnabled':false,"
                + "'staticWebsite':{'enabled':true,'indexDocument':'index.html','errorDocument404Path':'404.html'}}}";
        flags(
                "pipeline-delete-without-net",
                Severity.MEDIUM,
                "neither soft delete nor versions",
                survey().found("blob-service", SERVICE, off),
                whole());
        silent("pipeline-delete-without-net", survey(), whole());
        unknown("pipeline-delete-without-net", survey().unread("blob-service", SERVICE), whole());
        flags(
                "pipeline-leaves-old-files",
                Severity.LOW,
                "never deletes",
                survey(),
                byToken().step(upload("quaysidewifi", "$web", false)).build());
    }

    @Test
    void deploymentState() {
        Operation state = new Operation.KeepState(at("quaysidewifi", "$web"));
        flags(
                "pipeline-state-exposed",
                Severity.CRITICAL,
                "anyone can read",
                survey(),
                byToken().step(state).build());
        AzureSurvey stored = survey().blobs("index.html", "404.html", "site.tfstate");
        flags("pipeline-state-exposed", Severity.CRITICAL, "is deployment state", stored, whole());
        silent("pipeline-state-exposed", survey(), whole());
        unknown(
                "pipeline-state-exposed",
                survey(),
                byToken()
                        .step(upload("quaysidewifi", "$web", true))
                        .step(new Operation.KeepState(at("$STATE", "state")))
                        .build());
    }

    @Test
    void keys() {
        Pipeline keyed = pipeline(Kind.STORE_KEY, "$STORAGE_KEY")
                .step(upload("quaysidewifi", "$web", true))
                .build();
        flags("publisher-long-lived-key", Severity.MEDIUM, "the key of quaysidewifi", survey(), keyed);
        assertThat(survey().audit(SiteFile.empty(), keyed).context().publishers())
                .extracting(each -> each.id())
                .contains(ACC + "#key");
        flags(
                "publisher-long-lived-key",
                Severity.MEDIUM,
                "signed with the key",
                survey(),
                pipeline(Kind.SIGNED_BY_KEY, "$SAS")
                        .step(upload("quaysidewifi", "$web", true))
                        .build());
        unknown(
                "publisher-long-lived-key",
                survey(),
                pipeline(Kind.SIGNED, "$SAS")
                        .step(upload("quaysidewifi", "$web", true))
                        .build());
        silent(
                "publisher-long-lived-key",
                survey(),
                pipeline(Kind.SIGNED_BY_PRINCIPAL, "$SAS")
                        .step(upload("quaysidewifi", "$web", true))
                        .build());
        silent("publisher-long-lived-key", survey(), whole());
        flags("key-old", Severity.HIGH, "ago", survey(MADE), keyed);
        flags("key-old", Severity.MEDIUM, "ago", survey(MADE.replace("2025-01-01", "2026-08-01")), keyed);
        silent("key-old", survey(MADE.replace("2025-01-01", "2026-11-01")), keyed);
        silent("key-old", survey(MADE), whole());
        unknown("key-old", survey(",'keyCreationTime':{'key1':null,'key2':null}"), keyed);
        flags(
                "publisher-cannot-publish",
                Severity.HIGH,
                "which refuses keys",
                survey(
                        ",'allowSharedKeyAccess':false",
                        assignment(PURGES, PUBLISHER, "ServicePrincipal", ENDPOINT, "")),
                keyed);
    }

    @Test
    void aCommandThatIsGivenNothingFetchesTheKey() {
        UnaryOperator<PipelineBuilder> fetching = builder -> builder.step(new Operation.Call(
                        "Microsoft.Storage/storageAccounts/read", PipelineValue.of("subscription"), Optional.empty()))
                .sameLine()
                .step(new Operation.Call(
                        "Microsoft.Storage/storageAccounts/listKeys/action",
                        PipelineValue.of("storageAccounts/quaysidewifi"),
                        Optional.empty()))
                .sameLine()
                .with(Kind.STORE_KEY, "fetched by the command")
                .step(upload("quaysidewifi", "$web", true));
        Pipeline pipeline = fetching.apply(byToken()).build();
        flags(
                "publisher-cannot-publish",
                Severity.HIGH,
                "lacks Microsoft.Storage/storageAccounts/read on 0c5f7a52",
                survey(),
                pipeline);
        silent(
                "publisher-cannot-publish",
                survey("", assignment(KEYS, PUBLISHER, "ServicePrincipal", SUB, "")),
                pipeline);
        unknown(
                "publisher-cannot-publish",
                survey("", assignment(KEYS, PUBLISHER, "ServicePrincipal", ACC, "")),
                pipeline);
        flags(
                "publisher-long-lived-key",
                Severity.MEDIUM,
                "for lack of --auth-mode login",
                survey("", assignment(KEYS, PUBLISHER, "ServicePrincipal", SUB, "")),
                pipeline);
        Trimming trim = survey().trim(pipeline).get(0);
        assertThat(trim.needed())
                .extracting(need -> need.action() + " " + need.on())
                .containsExactly(BLOBS + "read " + WEB, BLOBS + "write " + WEB, BLOBS + "delete " + WEB);
        assertThat(trim.openSteps()).singleElement().satisfies(step -> assertThat(step.why())
                .contains("--auth-mode login"));
    }

    @Test
    void whatThePipelineNeeds() {
        flags("publisher-cannot-publish", Severity.HIGH, "lacks " + PURGE, survey("", new String[0]), whole());
        silent("publisher-cannot-publish", survey(), whole());
        Pipeline putsOnly = byToken()
                .step(PipelineBuilder.upload("dist", "x", "", true, false, Optional.empty())
                        .to(at("quaysidewifi", "$web")))
                .build();
        Trimming trim = survey().trim(putsOnly).get(0);
        assertThat(trim.needed()).extracting(need -> need.action()).contains(BLOBS + "write");
        assertThat(trim.needed()).extracting(need -> need.action()).doesNotContain(BLOBS + "delete", PURGE);
        assertThat(trim.coversNeeded()).isTrue();
        assertThat(trim.withinNeeded()).isTrue();
        assertThat(trim.proposalSpelled()).doesNotContain("blobs/delete");
        Trimming all = survey().trim(whole()).get(0);
        assertThat(all.needed())
                .extracting(need -> need.action() + " " + need.on())
                .contains(BLOBS + "delete " + WEB, PURGE + " " + ENDPOINT);
        assertThat(all.coversNeeded() && all.withinNeeded()).isTrue();
        assertThat(all.missing()).isEmpty();
    }

    @Test
    void passwords() {
        flags(
                "principal-secret-long",
                Severity.MEDIUM,
                "a pipeline uses where a token would do",
                survey(),
                pipeline(Kind.PRINCIPAL_BY_PASSWORD, CLIENT)
                        .step(upload("quaysidewifi", "$web", true))
                        .step(purge(OWN_ENDPOINT))
                        .build());
        silent("principal-secret-long", survey(), whole());
    }

    @Test
    void whoIsBehindAName() {
        // Only one principal publishes here by a password: a variable for its id is that.
        Pipeline open = pipeline(Kind.PRINCIPAL_BY_PASSWORD, "$AZURE_CLIENT_ID")
                .step(upload("quaysidewifi", "$web", true))
                .build();
        assertThat(survey().trim(open).get(0).needed())
                .extracting(need -> need.evidence().word())
                .contains("pipeline");
        // What the forge calls a connection may be anybody.
        Pipeline connected = pipeline(Kind.SERVICE_CONNECTION, "quayside")
                .step(upload("quaysidewifi", "$web", true))
                .build();
        assertThat(survey().trim(connected).get(0).needed())
                .extracting(need -> need.evidence().word())
                .containsOnly("pattern");
    }

    @Test
    void contents() {
        AzureSurvey odd = survey().blobs("index.html", "404.html", ".git/config", "app.js.map");
        flags("content-private-files", Severity.HIGH, ".git/config is stored among the pages", odd, whole());
        flags("content-source-maps", Severity.LOW, "app.js.map", odd, whole());
        AzureSurvey typed = survey().found(
                        "container-blobs",
                        WEB,
                        "{'value':[{'name':'index.html','properties':{'contentType':'application/octet-stream'}},"
                                + "{'name':'404.html','properties':{'contentType':'text/html'}}],'nextMarker':''}");
        flags("content-wrong-type", Severity.HIGH, "index.html is stored as application/octet-stream", typed, whole());
        silent("content-wrong-type", survey(), whole());
        unknown("content-wrong-type", survey().unread("container-blobs", WEB), whole());
        unknown("content-private-files", survey().unread("container-blobs", WEB), whole());
    }
}
