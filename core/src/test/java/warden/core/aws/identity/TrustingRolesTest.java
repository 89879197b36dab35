package warden.core.aws.identity;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.ACCOUNT;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.policyOf;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.survey.SurveyLine;

class TrustingRolesTest {
    private static final String USERS = "arn:aws:iam::" + ACCOUNT + ":user/";
    private static final String ROLES = "arn:aws:iam::" + ACCOUNT + ":role/";

    private static String trust(String principal) {
        return "{'Effect':'Allow','Principal':" + principal + ",'Action':'sts:AssumeRole'}";
    }

    private final Account account = aSurvey()
            .role("open", trust("'*'"), "")
            .role("delegating", trust("{'AWS':'" + ACCOUNT + "'}"), "")
            .role("named", trust("{'AWS':'" + USERS + "anna'}"), "")
            .role("chained", trust("{'AWS':'" + ROLES + "named'}"), "")
            .role("outside", trust("{'AWS':'109876543210'}"), "")
            .role("by-token", trust("{'Federated':'arn:aws:iam::" + ACCOUNT + ":oidc-provider/x.test'}"), "")
            .role("opaque", "{'Effect':'Perhaps'}", "")
            .role("session", trust("{'AWS':'arn:aws:sts::" + ACCOUNT + ":assumed-role/other/one'}"), "")
            .account();

    private List<String> lettingIn(Actor actor, Set<String> own) {
        return account
                .directory()
                .trustingRoles()
                .lettingIn(actor, arn -> own.contains(arn.substring(ROLES.length())))
                .stream()
                .map(Principal::name)
                .toList();
    }

    @Test
    void letsInWhomTheTrustNamesAndWhomTheAccountMay() {
        Actor anna = new Actor.User(Arn.parse(USERS + "anna").orElseThrow());
        Actor named = new Actor.Role(Arn.parse(ROLES + "named").orElseThrow());
        assertThat(lettingIn(anna, Set.of())).containsExactly("open", "named", "session");
        assertThat(lettingIn(anna, Set.of("delegating", "outside", "by-token", "opaque")))
                .containsExactly("open", "delegating", "named", "opaque", "session");
        assertThat(lettingIn(named, Set.of("delegating"))).containsExactly("open", "delegating", "chained", "session");
    }

    /** A change of one role leaves the others parsed, and is seen in all that is made of them. */
    @Test
    void knowsOfAChange() {
        List<Principal> before = account.directory().principals();
        Account changed = account.with(new SurveyLine(
                "s.ndjson",
                1,
                "iam-role",
                ROLES + "outside",
                "",
                SurveyLine.Outcome.FOUND,
                ("{'RoleName':'outside','Arn':'" + ROLES + "outside','AssumeRolePolicyDocument':"
                                + policyOf(trust("'*'")) + "}")
                        .replace('\'', '"')));
        List<Principal> after = changed.directory().principals();
        assertThat(after).hasSameSizeAs(before);
        for (int i = 0; i < after.size(); i++) {
            if (after.get(i).name().equals("outside")) {
                assertThat(after.get(i)).isNotEqualTo(before.get(i));
            } else {
                assertThat(after.get(i)).isSameAs(before.get(i));
            }
        }
        assertThat(changed.directory().trustingRoles().lettingIn(new Actor.Anyone(), arn -> false))
                .extracting(Principal::name)
                .containsExactly("open", "outside", "session");
        assertThat(lettingIn(new Actor.Anyone(), Set.of())).containsExactly("open", "session");
    }
}
