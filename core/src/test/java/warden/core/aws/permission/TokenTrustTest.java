package warden.core.aws.permission;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.json;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.aws.permission.TokenTrust.Pinning;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.document.Pointer;

class TokenTrustTest {
    private static final String GITHUB = "token.actions.githubusercontent.com";

    private static List<TokenTrust> trusts(String issuer, String conditions) {
        String text =
                "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'Federated':'arn:aws:iam::210987654321:oidc-provider/"
                        + issuer + "'},'Action':'sts:AssumeRoleWithWebIdentity','Condition':{" + conditions + "}}]}";
        return TokenTrust.of(PolicyParser.parse(json(text), PolicyKind.TRUST, Pointer.ROOT));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'StringEquals':{'X:sub':'repo:heron/www:ref:refs/heads/main','X:aud':'sts.amazonaws.com'} | REPOSITORIES | true |",
                "'StringEquals':{'X:sub':['repo:heron/www:ref:refs/heads/main','repo:heron/book:environment:live'],'X:aud':'a'} | REPOSITORIES | true |",
                "'StringLike':{'X:sub':'repo:heron/www:*'} | REPOSITORIES | false | pull requests, any branch",
                "'StringLike':{'X:sub':'repo:heron/www:ref:refs/heads/*'} | REPOSITORIES | false | any branch",
                "'StringLike':{'X:sub':'repo:heron/www:ref:refs/heads/release-*'} | REPOSITORIES | false |",
                "'StringEquals':{'X:sub':'repo:heron/www:pull_request'} | REPOSITORIES | false | pull requests",
                "'StringLike':{'X:sub':'repo:heron/*'} | OWNER | false | pull requests, any branch",
                "'StringLike':{'X:sub':'repo:heron/*:ref:refs/heads/main'} | OWNER | false |",
                "'StringLike':{'X:sub':'repo:heron*'} | NOBODY | false | pull requests, any branch",
                "'StringLike':{'X:sub':'repo:*'} | NOBODY | false | pull requests, any branch",
                "'StringLike':{'X:sub':'*:ref:refs/heads/main'} | NOBODY | false |",
                "'StringEquals':{'X:aud':'sts.amazonaws.com'} | NOBODY | true | pull requests, any branch",
                "'StringNotEquals':{'X:sub':'repo:heron/www:pull_request'} | NOBODY | false | pull requests, any branch",
                "'StringEquals':{'X:repository':'heron/www'} | REPOSITORIES | false | pull requests, any branch",
                "'StringLike':{'X:sub':'repo:heron/www:*'},'StringEquals':{'X:sub':'repo:heron/www:environment:live'} | REPOSITORIES | false |"
            })
    void saysHowWellTheFirstHostsRepositoryIsPinned(
            String conditions, Pinning pinning, boolean audience, String admits) {
        TokenTrust trust =
                trusts(GITHUB, conditions.replace("X:", GITHUB + ":")).get(0);
        assertThat(trust.pinning()).isEqualTo(pinning);
        assertThat(trust.pinsAudience()).isEqualTo(audience);
        assertThat(String.join(", ", trust.admits())).isEqualTo(admits == null ? "" : admits);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'StringEquals':{'X:sub':'project_path:heron/www:ref_type:branch:ref:main'} | REPOSITORIES |",
                "'StringLike':{'X:sub':'project_path:heron/www:ref_type:branch:ref:*'} | REPOSITORIES | any branch",
                "'StringLike':{'X:sub':'project_path:heron/*:ref_type:branch:ref:main'} | OWNER |",
                "'StringLike':{'X:sub':'project_path:*'} | NOBODY | any branch"
            })
    void saysHowWellTheSecondHostsRepositoryIsPinned(String conditions, Pinning pinning, String admits) {
        TokenTrust trust =
                trusts("gitlab.com", conditions.replace("X:", "gitlab.com:")).get(0);
        assertThat(trust.pinning()).isEqualTo(pinning);
        assertThat(String.join(", ", trust.admits())).isEqualTo(admits == null ? "" : admits);
    }

    @Test
    void looksAtPipelinesOnly() {
        assertThat(trusts("oidc.eks.eu-west-1.amazonaws.com/id/ABC", "'StringEquals':{'a:aud':'b'}"))
                .isEmpty();
        assertThat(trusts("app.terraform.io", "'StringEquals':{'app.terraform.io:sub':'organization:heron:project:x'}"))
                .singleElement()
                .satisfies(trust -> assertThat(trust.pinning()).isEqualTo(Pinning.REPOSITORIES));
        assertThat(trusts("app.terraform.io", "'StringEquals':{'app.terraform.io:aud':'b'}"))
                .singleElement()
                .satisfies(trust -> assertThat(trust.pinning()).isEqualTo(Pinning.NOBODY));
    }

    /** What a deny takes away, and what it leaves. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'StringNotLike':{'X:sub':'repo:heron/www:*'} | REPOSITORIES | false",
                "'StringNotEquals':{'X:repository':'heron/www'} | REPOSITORIES | false",
                "'StringNotEquals':{'X:repository_owner':'heron'} | OWNER | false",
                "'StringNotLike':{'X:repository_owner':'h*'} | NOBODY | false",
                "'StringEquals':{'X:repository_owner':'heron'} | NOBODY | false",
                "'StringNotEquals':{'X:aud':'sts.amazonaws.com'} | NOBODY | true",
                "'StringNotEquals':{'Y:repository':'heron/www'} | NOBODY | false",
                "'StringNotEquals':{'X:repository':'heron/www'},'Bool':{'aws:SecureTransport':'true'} | NOBODY | false",
            })
    void countsDenies(String conditions, Pinning pinning, boolean audience) {
        assertThat(denied(GITHUB, "'sts:AssumeRoleWithWebIdentity'", "Deny", conditions)
                        .pinning())
                .isEqualTo(pinning);
        assertThat(denied(GITHUB, "'sts:AssumeRoleWithWebIdentity'", "Deny", conditions)
                        .pinsAudience())
                .isEqualTo(audience);
    }

    @Test
    void trustsNobodyWhomItDeniesAltogether() {
        String provider = "{'Federated':'arn:aws:iam::210987654321:oidc-provider/" + GITHUB + "'}";
        String text = "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':" + provider
                + ",'Action':'sts:AssumeRoleWithWebIdentity'},{'Effect':'Deny','Principal':" + provider
                + ",'Action':'sts:*'}]}";
        assertThat(TokenTrust.of(PolicyParser.parse(json(text), PolicyKind.TRUST, Pointer.ROOT)))
                .isEmpty();
    }

    @Test
    void countsNoDenyOfSomethingElse() {
        String pins = "'StringNotEquals':{'X:repository':'heron/www'}";
        assertThat(denied("gitlab.com", "'sts:AssumeRoleWithWebIdentity'", "Deny", pins)
                        .pinning())
                .isEqualTo(Pinning.NOBODY);
        assertThat(denied(GITHUB, "'sts:TagSession'", "Deny", pins).pinning()).isEqualTo(Pinning.NOBODY);
        assertThat(denied(GITHUB, "'sts:AssumeRoleWithWebIdentity'", "Allow", pins)
                        .pinning())
                .isEqualTo(Pinning.NOBODY);
        assertThat(trusts(GITHUB, "'StringEquals':{'token.actions.githubusercontent.com:repository':'x'}")
                        .get(0)
                        .pinning())
                .as("a text of one sign is no repository")
                .isEqualTo(Pinning.NOBODY);
    }

    private static TokenTrust denied(String issuer, String action, String effect, String conditions) {
        String provider = "{'Federated':'arn:aws:iam::210987654321:oidc-provider/%s'}";
        String text =
                "{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':" + String.format(provider, GITHUB)
                        + ",'Action':'sts:AssumeRoleWithWebIdentity'},{'Effect':'" + effect + "','Principal':"
                        + String.format(provider, issuer) + ",'Action':" + action
                        + (conditions == null || conditions.isEmpty()
                                ? ""
                                : ",'Condition':{"
                                        + conditions.replace("X:", GITHUB + ":").replace("Y:", "gitlab.com:") + "}")
                        + "}]}";
        return TokenTrust.of(PolicyParser.parse(json(text), PolicyKind.TRUST, Pointer.ROOT))
                .get(0);
    }
}
