package warden.core.azure.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import warden.core.access.Decision;
import warden.core.azure.account.Subscription;
import warden.core.azure.fixture.AzureSurvey;

/** Holds decisions against a table that was reasoned by hand. */
class DecisionsTest {
    private static final String GROUP = "e7aa0000-0000-4000-8000-000000000001";
    private static final String BLOBS = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/";
    private static final Map<String, String> GUIDS = Map.ofEntries(
            Map.entry("Owner", "8e3af657-a8ff-443c-a75c-2fe8c4bcb635"),
            Map.entry("Contributor", "b24988ac-6180-42a0-ab88-20f7382dd24c"),
            Map.entry("Reader", "acdd72a7-3385-48ef-bd42-f606fba81ae7"),
            Map.entry("User Access Administrator", "18d7d88d-d35e-4fb5-a5c3-7773c20a72d9"),
            Map.entry("Role Based Access Control Administrator", "f58310d9-a9f6-439a-9e8d-f62e7b41a168"),
            Map.entry("Storage Account Contributor", "17d1049b-9a84-46fb-8f53-869881c3d3ab"),
            Map.entry("Storage Account Key Operator Service Role", "81a9662b-bebf-436f-a333-f67b29880f12"),
            Map.entry("Reader and Data Access", "c12c1c16-33a1-487b-954d-41c89c60f349"),
            Map.entry("Storage Blob Data Owner", "b7e6dc6d-f1e8-4753-8033-0f276bb0955b"),
            Map.entry("Storage Blob Data Contributor", "ba92f5b4-2d11-453d-a403-e96b0029c9fe"),
            Map.entry("Storage Blob Data Reader", "2a2b9908-6ea1-4ae2-8e65-a410df84e7d1"),
            Map.entry("Storage Blob Delegator", "db58b8e5-c6ad-4a2a-8342-4190687cbf4a"),
            Map.entry("CDN Endpoint Contributor", "426e0c7f-0c7e-4658-b36f-ff54d6c29b45"),
            Map.entry("CDN Profile Contributor", "ec156ff8-a8d1-4d15-830c-5b80698ca432"),
            Map.entry("DNS Zone Contributor", "befefa01-2a29-4197-83a8-272ff33ce314"),
            Map.entry("Website Contributor", "de139f84-1756-47ae-9be6-808fbbe84772"),
            Map.entry("Unknown", "99999999-0000-4000-8000-000000000001"));
    private static final Map<String, String> SCOPES = Map.of(
            "sub", AzureSurvey.SUB,
            "rg", AzureSurvey.RG,
            "other", AzureSurvey.SUB + "/resourceGroups/other",
            "acc", AzureSurvey.ACC,
            "web", AzureSurvey.WEB,
            "exports", AzureSurvey.EXPORTS,
            "afd", AzureSurvey.AFD,
            "root", "/",
            "mg", "/providers/Microsoft.Management/managementGroups/hsf");
    private static final Map<String, String> CONDITIONS = Map.of(
            "web", "(" + clause("containers:name", "$web") + ")",
            "exports", "(" + clause("containers:name", "exports") + ")",
            "path", "(" + clause("containers/blobs:path", "docs/*") + ")",
            "request",
                    "((!(ActionMatches{'" + BLOBS
                            + "*'})) OR (@Request[Microsoft.Storage/storageAccounts/blobServices/containers/blobs:path]"
                            + " StringLike 'x'))");

    private static String clause(String attribute, String value) {
        return "(!(ActionMatches{'" + BLOBS + "*'})) OR (@Resource[Microsoft.Storage/storageAccounts/blobServices/"
                + attribute + "] " + (value.contains("*") ? "StringLike" : "StringEquals") + " '" + value + "')";
    }

    record Row(String line, String roles, String holds, List<String> answers) {
        @Override
        public String toString() {
            return line;
        }
    }

    static Stream<Row> rows() throws IOException {
        List<Row> rows = new ArrayList<>();
        try (BufferedReader in = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(DecisionsTest.class.getResourceAsStream("decisions.txt")),
                StandardCharsets.UTF_8))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                if (!line.startsWith("#") && !line.isBlank()) {
                    String[] parts = line.split("\\|");
                    rows.add(new Row(
                            line,
                            parts[0].strip(),
                            parts[1].strip(),
                            List.of(parts[2].strip().split(" "))));
                }
            }
        }
        return rows.stream();
    }

    @ParameterizedTest
    @MethodSource("rows")
    void decidesAsReasoned(Row row) {
        AccessRules rules = new AccessRules(new Subscription(survey(row).survey()));
        Caller who = Caller.principal("servicePrincipals/" + AzureSurvey.PUBLISHER);
        List<String> answers = new ArrayList<>();
        for (String[] asked : new String[][] {
            {BLOBS + "read", AzureSurvey.WEB + "/blobs/index.html"},
            {"list", AzureSurvey.WEB},
            {BLOBS + "write", AzureSurvey.WEB + "/blobs/index.html"},
            {BLOBS + "delete", AzureSurvey.WEB + "/blobs/index.html"},
            {BLOBS + "add/action", AzureSurvey.WEB + "/blobs/new.html"},
            {"Microsoft.Storage/storageAccounts/write", AzureSurvey.ACC},
            {"Microsoft.Storage/storageAccounts/blobServices/containers/write", AzureSurvey.WEB},
            {"Microsoft.Storage/storageAccounts/listKeys/action", AzureSurvey.ACC},
            {"Microsoft.Authorization/roleAssignments/write", AzureSurvey.ACC},
            {"Microsoft.Cdn/profiles/afdEndpoints/Purge/action", AzureSurvey.ENDPOINT}
        }) {
            boolean lists = asked[0].equals("list");
            RequestContext context = lists ? RequestContext.PLAIN.listing() : RequestContext.PLAIN;
            Decision decision = rules.decide(who, lists ? Actions.READ : asked[0], asked[1], context, true);
            if (decision.outcome() == Decision.Outcome.UNKNOWN) {
                assertThat(decision.needs()).as(asked[0]).isNotEmpty();
            }
            if (decision.outcome() == Decision.Outcome.ALLOW) {
                assertThat(decision.because()).as(asked[0]).isNotEmpty();
            }
            answers.add(decision.outcome().word().substring(0, 1));
        }
        assertThat(answers).isEqualTo(row.answers());
    }

    private static AzureSurvey survey(Row row) {
        AzureSurvey survey = AzureSurvey.empty();
        String holds = row.holds();
        List<String> account = new ArrayList<>();
        if (holds.contains("keys=on")) {
            account.add("'allowSharedKeyAccess':true");
        } else if (holds.contains("keys=missing")) {
            account.add("'allowSharedKeyAccess':null");
        }
        if (holds.contains("hierarchical")) {
            account.add("'isHnsEnabled':true");
        }
        if (holds.contains("network=closed")) {
            account.add("'networkAcls':{'defaultAction':'Deny'}");
        } else if (holds.contains("network=rules")) {
            account.add("'networkAcls':{'defaultAction':'Deny','ipRules':[{'value':'203.0.113.0/24'}]}");
        } else if (holds.contains("network=disabled")) {
            account.add("'publicNetworkAccess':'Disabled'");
        } else if (holds.contains("network=private")) {
            account.add("'publicNetworkAccess':'Disabled','privateEndpointConnections':[{'properties':"
                    + "{'privateLinkServiceConnectionState':{'status':'Approved'}}}]");
        } else if (holds.contains("network=perimeter")) {
            account.add("'publicNetworkAccess':'SecuredByPerimeter'");
        }
        survey.account(String.join(",", account)).containers("'$web':'None','exports':'None'");
        String condition = CONDITIONS.entrySet().stream()
                .filter(entry -> holds.contains("condition=" + entry.getKey()))
                .map(entry -> "\"" + entry.getValue() + "\"")
                .findFirst()
                .orElse("");
        boolean toGroup = row.roles().endsWith(", group");
        List<String> assignments = new ArrayList<>();
        for (String role : row.roles().replace(", group", "").split(", ")) {
            String name = role.substring(0, role.indexOf(" @"));
            String assigned = AzureSurvey.assignment(
                    Objects.requireNonNull(GUIDS.get(name), name),
                    toGroup ? GROUP : AzureSurvey.PUBLISHER,
                    toGroup ? "Group" : "ServicePrincipal",
                    Objects.requireNonNull(SCOPES.get(role.substring(role.indexOf('@') + 1))),
                    condition);
            // The copy of most roles serves only where the name is printed beside the assignment.
            assignments.add(assigned.replace("'principalType'", "'roleDefinitionName':'" + name + "','principalType'"));
        }
        survey.assignments(assignments.toArray(String[]::new));
        if (holds.contains("assignments=unread")) {
            survey.unread("role-assignment-list", AzureSurvey.SUB + "?atScope()");
        } else if (holds.contains("assignments=cut")) {
            survey.takenBy("");
        }
        if (holds.contains("member")) {
            survey.list("member-of", "servicePrincipals/" + AzureSurvey.PUBLISHER, "{'id':'" + GROUP + "'}");
        } else if (holds.contains("outsider")) {
            survey.list("member-of", "servicePrincipals/" + AzureSurvey.PUBLISHER);
        }
        deny(survey, holds);
        if (holds.contains("lock=")) {
            String level = holds.contains("ReadOnly") ? "ReadOnly" : "CanNotDelete";
            survey.list(
                    "lock-list",
                    AzureSurvey.SUB,
                    "{'id':'" + AzureSurvey.RG + "/providers/Microsoft.Authorization/locks/l','properties':{'level':'"
                            + level + "'}}");
        }
        return survey;
    }

    private static void deny(AzureSurvey survey, String holds) {
        if (holds.contains("deny=unread")) {
            survey.unread("deny-assignment-list", AzureSurvey.SUB);
        } else if (holds.contains("deny=")) {
            String whom = holds.contains("everyone") ? "00000000-0000-0000-0000-000000000000" : AzureSurvey.READER;
            survey.list(
                    "deny-assignment-list",
                    AzureSurvey.SUB,
                    "{'id':'" + AzureSurvey.SUB
                            + "/providers/Microsoft.Authorization/denyAssignments/d','properties':{'scope':'"
                            + AzureSurvey.RG + "','principals':[{'id':'" + whom
                            + "','type':'ServicePrincipal'}],'permissions':[{'dataActions':['*']}]}}");
        }
    }
}
