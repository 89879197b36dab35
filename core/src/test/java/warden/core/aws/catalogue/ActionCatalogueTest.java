package warden.core.aws.catalogue;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.algebra.Glob;

class ActionCatalogueTest {
    private static final ActionCatalogue CATALOGUE = ActionCatalogue.shipped();

    @ParameterizedTest
    @CsvSource({
        "S3:getobject,              s3:GetObject,              READ,        object",
        "s3:PutBucketPolicy,        s3:PutBucketPolicy,        PERMISSIONS, bucket",
        "s3:ListAllMyBuckets,       s3:ListAllMyBuckets,       LIST,        *",
        "cloudfront:createinvalidation, cloudfront:CreateInvalidation, WRITE, distribution",
        "iam:PassRole,              iam:PassRole,              WRITE,       role",
        "lambda:AddPermission,      lambda:AddPermission,      PERMISSIONS, function",
        "codepipeline:StartPipelineExecution, codepipeline:StartPipelineExecution, WRITE, pipeline",
        "amplify:TagResource,       amplify:TagResource,       TAGGING,     apps",
    })
    void knowsAnActionInAnyCase(String asked, String name, ServiceAction.Level level, String resourceType) {
        ServiceAction action = CATALOGUE.named(asked).orElseThrow();
        assertThat(action.name()).isEqualTo(name);
        assertThat(action.level()).isEqualTo(level);
        assertThat(action.resourceType()).isEqualTo(resourceType);
    }

    @Test
    void doesNotKnowWhatDoesNotExist() {
        assertThat(CATALOGUE.named("s3:GetObjekt")).isEmpty();
        assertThat(CATALOGUE.named("ec2:RunInstances")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "s3:ListBucket,       s3:prefix,                        true",
        "s3:GetObject,        s3:prefix,                        false",
        "s3:GetObject,        S3:EXISTINGOBJECTTAG/Department,  true",
        "s3:PutObject,        s3:ExistingObjectTag/department,  false",
        "s3:GetObjectVersion, s3:VersionId,                     true",
        "s3:DeleteBucket,     s3:TlsVersion,                    true",
        "iam:PassRole,        iam:PassedToService,              true",
        "iam:CreateAccessKey, iam:PassedToService,              false",
        "sts:AssumeRole,      sts:ExternalId,                   true",
        "kms:Decrypt,         kms:EncryptionContext:aws:s3:arn, true",
    })
    void saysWhichConditionKeysAnActionCarries(String action, String key, boolean carries) {
        assertThat(CATALOGUE.named(action).orElseThrow().carries(key)).isEqualTo(carries);
    }

    @Test
    void everyPatternOfTheConditionsFitsAnAction() throws IOException {
        try (BufferedReader lines = new BufferedReader(new InputStreamReader(
                Objects.requireNonNull(ActionCatalogue.class.getResourceAsStream("conditions.txt")),
                StandardCharsets.UTF_8))) {
            List<String> patterns = lines.lines()
                    .filter(line -> !line.startsWith("#"))
                    .map(line -> line.substring(0, line.indexOf(' ')).toLowerCase(java.util.Locale.ROOT))
                    .toList();
            assertThat(patterns).hasSizeGreaterThan(50).doesNotHaveDuplicates();
            assertThat(patterns).allSatisfy(pattern -> assertThat(CATALOGUE.matching(Glob.parse(pattern)))
                    .as(pattern)
                    .isNotEmpty());
        }
    }

    @Test
    void countsWhatAPatternCovers() {
        assertThat(CATALOGUE.matching(Glob.parse("s3:getobject*")))
                .extracting(ServiceAction::name)
                .contains("s3:GetObject", "s3:GetObjectVersion", "s3:GetObjectAcl")
                .doesNotContain("s3:PutObject");
        assertThat(CATALOGUE.matching(Glob.parse("*"))).hasSize(CATALOGUE.all().size());
        assertThat(CATALOGUE.ofService("sts"))
                .allMatch(action -> action.service().equals("sts"));
    }
}
