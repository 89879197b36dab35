package warden.core.azure.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.access.Decision;
import warden.core.azure.account.Subscription;
import warden.core.azure.fixture.AzureSurvey;

/** What was read and not understood leaves an answer open that hangs on it. */
class NotUnderstoodTest {
    private static final String CONTRIBUTOR = "ba92f5b4-2d11-453d-a403-e96b0029c9fe";
    private static final String CUSTOM = "99999999-0000-4000-8000-000000000001";
    private static final String BLOBS = "Microsoft.Storage/storageAccounts/blobServices/containers/blobs/";
    private static final String CONDITION = "(!(ActionMatches{'" + BLOBS + "*'})) OR "
            + "(@Resource[Microsoft.Storage/storageAccounts/blobServices/containers:name] StringLike '$w*')";

    private static String may(String condition) {
        return AzureSurvey.assignment(
                CONTRIBUTOR, AzureSurvey.PUBLISHER, "ServicePrincipal", AzureSurvey.ACC, condition);
    }

    private static String custom() {
        return AzureSurvey.assignment(CUSTOM, AzureSurvey.PUBLISHER, "ServicePrincipal", AzureSurvey.ACC, "");
    }

    private static AzureSurvey start() {
        return with("");
    }

    private static AzureSurvey with(String properties) {
        return AzureSurvey.empty()
                .account(properties)
                .containers("'$web':'None'")
                .definitions(AzureSurvey.definition(CONTRIBUTOR, "Publisher", "", "", "'" + BLOBS + "write'"));
    }

    private static String outcome(AzureSurvey survey) {
        Decision decision = new AccessRules(new Subscription(survey.survey()))
                .decide(
                        Caller.principal("servicePrincipals/" + AzureSurvey.PUBLISHER),
                        BLOBS + "write",
                        AzureSurvey.WEB + "/blobs/index.html",
                        RequestContext.PLAIN,
                        true);
        if (decision.outcome() == Decision.Outcome.UNKNOWN) {
            assertThat(decision.needs()).isNotEmpty();
        }
        return decision.outcome().word();
    }

    static Stream<Arguments> surveys() {
        return Stream.of(
                changed("an assignment without a scope", may -> may.replace("'scope'", "'range'")),
                changed("an assignment to nobody", may -> may.replace("'principalId'", "'principal'")),
                changed("an assignment to a principal of a kind that is new", may -> may.replace(
                                AzureSurvey.PUBLISHER, AzureSurvey.READER)
                        .replace("'ServicePrincipal'", "'Herd'")),
                changed("an assignment without an identifier", may -> may.replace("'id'", "'nr'")
                        .replace("'name'", "'title'")),
                changed(
                        "a condition that is no text",
                        may -> may.replace("'principalId'", "'condition':{'if':'so'},'principalId'")),
                survey(
                        "an answer that is no list",
                        start().found("role-assignment-list", AzureSurvey.SUB + "?atScope()", "{'items':[]}")),
                survey("a definition without permissions", defined("'permissions':null")),
                survey("a definition whose actions are a text", defined("'permissions':[{'dataActions':'*'}]")),
                survey("a definition with an action that is none", defined("'permissions':[{'dataActions':[{}]}]")),
                survey("a denial that names nobody", denied("'scope':'/','permissions':[{'dataActions':['*']}]")),
                survey(
                        "a denial of nothing that is told",
                        denied("'scope':'/','principals':[{'id':'00000000-0000-0000-0000-000000000000'}]")),
                survey(
                        "a denial without a scope",
                        denied("'principals':[{'id':'00000000-0000-0000-0000-000000000000'}],"
                                + "'permissions':[{'dataActions':['*']}]")),
                survey(
                        "a denial that spares somebody who is not told",
                        denied("'scope':'/','principals':[{'id':'00000000-0000-0000-0000-000000000000'}],"
                                + "'excludePrincipals':[{'type':'User'}],'permissions':[{'dataActions':['*']}]")),
                survey(
                        "a denial at the container that spares what lies in it",
                        denied("'scope':'" + AzureSurvey.WEB + "','doNotApplyToChildScopes':true,"
                                + "'principals':[{'id':'00000000-0000-0000-0000-000000000000'}],"
                                + "'permissions':[{'dataActions':['*']}]")));
    }

    private static Arguments changed(String what, UnaryOperator<String> change) {
        return survey(what, start().assignments(change.apply(may(""))));
    }

    private static Arguments survey(String what, AzureSurvey survey) {
        return Arguments.of(what, survey);
    }

    private static AzureSurvey defined(String permissions) {
        return start().assignments(custom())
                .definitions("{'id':'/providers/Microsoft.Authorization/roleDefinitions/" + CUSTOM
                        + "','properties':{'roleName':'Odd','type':'CustomRole'," + permissions + "}}");
    }

    private static AzureSurvey denied(String properties) {
        return start().assignments(may(""))
                .list(
                        "deny-assignment-list",
                        AzureSurvey.SUB,
                        "{'id':'/providers/Microsoft.Authorization/denyAssignments/d','properties':{" + properties
                                + "}}");
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("surveys")
    void isUnknown(String what, AzureSurvey survey) {
        assertThat(outcome(survey)).isEqualTo("unknown");
    }

    @Test
    void theSameIsKnownWhereEveryPartIsUnderstood() {
        assertThat(outcome(start().assignments(may("")))).isEqualTo("allow");
        assertThat(outcome(start().assignments(may("\"(" + CONDITION + ")\"")))).isEqualTo("allow");
        assertThat(outcome(start())).isEqualTo("deny");
        assertThat(outcome(defined("'permissions':[{'actions':['*']}]"))).isEqualTo("deny");
        assertThat(outcome(denied("'scope':'/','principals':[{'id':'00000000-0000-0000-0000-000000000000'}],"
                        + "'permissions':[{'dataActions':['*']}]")))
                .isEqualTo("deny");
    }

    /** No end of a condition is a crash, nor does half of one let anything through. */
    @Test
    void everyBeginningOfAConditionIsUnknown() {
        for (int end = 1; end < CONDITION.length() + 1; end++) {
            String cut = "(" + CONDITION.substring(0, end);
            assertThat(outcome(start().assignments(may("\"" + cut + "\""))))
                    .as(cut)
                    .isEqualTo("unknown");
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {65, 4_000, 200_000})
    void bracketsThatAreTooDeepAreUnknown(int depth) {
        String condition = "(".repeat(depth) + CONDITION + ")".repeat(depth);
        assertThat(outcome(start().assignments(may("\"" + condition + "\"")))).isEqualTo("unknown");
    }

    @Test
    void quotesWithoutEndAreUnknown() {
        String condition = "(!(ActionMatches{'" + "''".repeat(100_000) + "'})) OR (x)";
        assertThat(outcome(start().assignments(may("\"" + condition + "\"")))).isEqualTo("unknown");
    }

    @Test
    void anEscapedWildcardIsUnknown() {
        String condition = "(" + CONDITION.replace("$w*", "$w\\\\*") + ")";
        assertThat(outcome(start().assignments(may("\"" + condition + "\"")))).isEqualTo("unknown");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{'value':null}",
                "{'value':'somewhere'}",
                "{}",
            })
    void aNetworkRuleThatIsNotUnderstoodMayAdmitTheCaller(String rule) {
        AzureSurvey survey = with("'networkAcls':{'defaultAction':'Deny','ipRules':[{'value':'203.0.113.0/24'}," + rule
                        + "]}")
                .assignments(may(""));
        Decision decision = new AccessRules(new Subscription(survey.survey()))
                .decide(
                        Caller.principal("servicePrincipals/" + AzureSurvey.PUBLISHER),
                        BLOBS + "write",
                        AzureSurvey.WEB + "/blobs/index.html",
                        new RequestContext(
                                Optional.empty(), true, Optional.of("198.51.100.7"), false, Optional.empty()),
                        true);
        assertThat(decision.outcome()).isEqualTo(Decision.Outcome.UNKNOWN);
    }

    /** Who makes a local user works with every container, whatever is said of the account's keys. */
    @Test
    void aLocalUserWorksWhereSftpIsOn() {
        String role = AzureSurvey.definition(
                CUSTOM, "Local users", "'Microsoft.Storage/storageAccounts/localUsers/*'", "", "");
        assertThat(outcome(start().assignments(custom()).definitions(role))).isEqualTo("deny");
        assertThat(outcome(with("'isSftpEnabled':true").assignments(custom()).definitions(role)))
                .isEqualTo("allow");
        assertThat(outcome(with("'isSftpEnabled':true,'isLocalUserEnabled':false")
                        .assignments(custom())
                        .definitions(role)))
                .isEqualTo("deny");
    }
}
