package warden.core.aws.identity;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.survey.Citation;

/** The copies of the provider's own policies, and for which names there is one. */
class ManagedPoliciesTest {
    private static final Citation HERE = new Citation("survey.ndjson", 1, "iam-role", "x", "", "", Optional.empty());

    private static Optional<HeldPolicy> copy(String arn) {
        return ManagedPolicies.copyOf(arn, HERE);
    }

    @ParameterizedTest
    @CsvSource({
        "AdministratorAccess, iam:createuser, true",
        "AmazonS3FullAccess, s3:deletebucket, true",
        "AmazonS3FullAccess, iam:createuser, false",
        "AmazonS3ReadOnlyAccess, s3:getobject, true",
        "AmazonS3ReadOnlyAccess, s3:putobject, false",
        "CloudFrontFullAccess, cloudfront:createinvalidation, true",
        "IAMFullAccess, iam:createuser, true",
        "PowerUserAccess, s3:putobject, true",
        "service-role/AWSLambdaBasicExecutionRole, logs:putlogevents, true",
        "service-role/AWSLambdaBasicExecutionRole, s3:putobject, false",
    })
    void speaksOfAnAction(String name, String action, boolean isAllowed) {
        HeldPolicy policy = copy("arn:aws:iam::aws:policy/" + name).orElseThrow();
        assertThat(policy.isBuiltIn()).isTrue();
        assertThat(policy.document().problems()).isEmpty();
        assertThat(policy.document().statements().stream()
                        .anyMatch(statement -> statement.mayAllow()
                                && !statement.isOpaque()
                                && statement.actions().covers(action)))
                .isEqualTo(isAllowed);
        assertThat(policy.speaksFor(action)).isTrue();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "arn:aws:iam::aws:policy/AWSLambdaBasicExecutionRole",
                "arn:aws:iam::aws:policy/service-role/AdministratorAccess",
                "arn:aws:iam::210987654321:policy/AdministratorAccess",
                "arn:aws:iam::aws:policy/administratoraccess",
                "AdministratorAccess"
            })
    void anotherPolicyHasNoCopy(String arn) {
        assertThat(copy(arn)).isEmpty();
    }

    /** The copy of a very long policy says nothing of what it leaves out. */
    @Test
    void theCopyOfALongPolicySpeaksForItsOwnServicesOnly() {
        HeldPolicy policy = copy("arn:aws:iam::aws:policy/ReadOnlyAccess").orElseThrow();
        assertThat(policy.speaksFor("s3:getobject")).isTrue();
        assertThat(policy.speaksFor("dynamodb:getitem")).isFalse();
        assertThat(policy.speaksFor("s3")).isFalse();
    }
}
