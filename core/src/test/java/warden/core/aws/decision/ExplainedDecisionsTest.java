package warden.core.aws.decision;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.acl;
import static warden.core.fixture.SurveyBuilder.aclOf;
import static warden.core.fixture.SurveyBuilder.grant;
import static warden.core.fixture.SurveyBuilder.guard;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import warden.core.access.Decision;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.fixture.SurveyBuilder;

/**
 * What a decision says of itself: each step in its order, what it rests on and what would settle it. The expected texts stand in
 * {@code explained.txt} beside this class, one paragraph a case, and were read one by one.
 */
class ExplainedDecisionsTest {
    private static final String USER = "arn:aws:iam::210987654321:user/anna";
    private static final String ROLE = "arn:aws:iam::210987654321:role/publisher";
    private static final String OUTSIDER = "arn:aws:iam::109876543210:user/otto";
    private static final String ROOT = "arn:aws:iam::210987654321:root";
    private static final String BUCKET = "arn:aws:s3:::b";
    private static final String OBJECT = BUCKET + "/index.html";
    private static final String KEY = "arn:aws:kms:us-east-1:210987654321:key/1111";
    private static final String ALL_READ =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}";
    private static final String TRUST =
            "{'Effect':'Allow','Principal':{'AWS':'" + USER + "'},'Action':'sts:AssumeRole'}";
    private static final String LIMITED =
            ",'PermissionsBoundary':{'PermissionsBoundaryArn':'arn:aws:iam::210987654321:policy/limit'}";

    private record Case(String name, SurveyBuilder survey, String who, String action, String on, String context) {}

    private final List<Case> cases = new ArrayList<>();

    private void of(String name, SurveyBuilder survey, String who, String action, String on, String context) {
        cases.add(new Case(name, survey, who, action, on, context));
    }

    private static String may(String action, String resource) {
        return "{'Effect':'Allow','Action':'" + action + "','Resource':'" + resource + "'}";
    }

    private static String mayNot(String action, String resource) {
        return may(action, resource).replace("Allow", "Deny");
    }

    private static SurveyBuilder bucket(String... statements) {
        return aSurvey().bucket("b", bucket -> bucket.policy(statements));
    }

    private void visitors() {
        String read = "s3:GetObject";
        of("everyone by the policy", bucket(ALL_READ), "anyone", read, OBJECT, "");
        of("no policy", aSurvey().bucket("b"), "anyone", read, OBJECT, "");
        of("policy unread", aSurvey().bucket("b", b -> b.unread("bucket-policy")), "anyone", read, OBJECT, "");
        of("nothing allows", bucket(ALL_READ), "anyone", "s3:PutObject", OBJECT, "");
        String under = ALL_READ.replace("'Resource'", "'Sid':'Named','Resource'")
                .replace("}", ",'Condition':{'StringEquals':{'aws:Referer':'x'}}}");
        of("under a condition that holds", bucket(under), "anyone", read, OBJECT, "aws:Referer=x");
        of("under a condition that may hold", bucket(under), "anyone", read, OBJECT, "aws:Referer");
        of("a deny", bucket(ALL_READ, ALL_READ.replace("Allow", "Deny")), "anyone", read, OBJECT, "");
        of(
                "a deny that may hold",
                bucket(ALL_READ, under.replace("Allow", "Deny")),
                "anyone",
                read,
                OBJECT,
                "aws:Referer");
        of("an opaque statement", bucket(ALL_READ.replace("'Action'", "'Verb'")), "anyone", read, OBJECT, "");
        of(
                "restricted by the bucket",
                aSurvey().bucket("b", b -> b.policy(ALL_READ).guard(guard(false, false, false, true))),
                "anyone",
                read,
                OBJECT,
                "");
        of(
                "restriction unread",
                bucket(ALL_READ).unread("account-public-access", "210987654321"),
                "anyone",
                read,
                OBJECT,
                "");
        String toIdentity = ALL_READ.replace(
                "'*','Action'", "{'AWS':'arn:aws:iam::cloudfront:user/CloudFront Origin Access Identity E1'},'Action'");
        of(
                "an identity under a restriction",
                aSurvey().bucket("b", b -> b.policy(ALL_READ, toIdentity).guard(guard(false, false, false, true))),
                "origin-identity:E1",
                read,
                OBJECT,
                "");
        of(
                "the reader is to pay",
                bucket(ALL_READ).found("bucket-payer", BUCKET, "{'Payer':'Requester'}"),
                "anyone",
                read,
                OBJECT,
                "");
        of("who pays unread", bucket(ALL_READ).unread("bucket-payer", BUCKET), "anyone", read, OBJECT, "");
        of(
                "under a key",
                aSurvey()
                        .bucket("b", b -> b.policy(ALL_READ).encryptedUnder(KEY))
                        .keyPolicy(KEY),
                "anyone",
                read,
                OBJECT,
                "");
        of("encryption unread", bucket(ALL_READ).unread("bucket-encryption", BUCKET), "anyone", read, OBJECT, "");
        of("a bucket of nobody", aSurvey().bucket("b"), "anyone", read, "arn:aws:s3:::c/x", "");
        of(
                "the policy's own calls",
                bucket("{'Effect':'Allow','Principal':'*','Action':'s3:*','Resource':'arn:aws:s3:::b'}"),
                "anyone",
                "s3:PutBucketPolicy",
                BUCKET,
                "");
        of(
                "a time that has passed",
                bucket(ALL_READ.replace(
                        "}", ",'Condition':{'DateLessThan':{'aws:CurrentTime':'2026-01-01T00:00:00Z'}}}")),
                "anyone",
                read,
                OBJECT,
                "aws:CurrentTime=2026-11-24T00:00:00Z");
    }

    private void accessLists() {
        SurveyBuilder open = aSurvey().bucket("b", b -> b.aclsInForce()
                .acl(acl(grant("READ", "AllUsers"), grant("WRITE", "AuthenticatedUsers"))));
        of("listed by the ACL", open, "anyone", "s3:ListBucket", BUCKET, "");
        of("written by the ACL, unsigned", open, "anyone", "s3:PutObject", OBJECT, "");
        of("written by the ACL, signed", open, "any-account", "s3:PutObject", OBJECT, "");
        of(
                "ACLs that are ignored",
                aSurvey().bucket("b", b -> b.aclsInForce()
                        .guard(guard(false, true, false, false))
                        .acl(acl(grant("READ", "AllUsers")))),
                "anyone",
                "s3:ListBucket",
                BUCKET,
                "");
        of(
                "ACLs that may be ignored",
                aSurvey().bucket("b", b -> b.aclsInForce()
                        .acl(acl(grant("READ", "AllUsers")))
                        .unread("bucket-public-access")),
                "anyone",
                "s3:ListBucket",
                BUCKET,
                "");
        of(
                "ACLs that are out of force",
                aSurvey().bucket("b", b -> b.acl(acl(grant("READ", "AllUsers")))),
                "anyone",
                "s3:ListBucket",
                BUCKET,
                "");
        of(
                "ownership unread",
                aSurvey().bucket("b", b -> b.acl(acl(grant("READ", "AllUsers"))).unread("bucket-ownership")),
                "anyone",
                "s3:ListBucket",
                BUCKET,
                "");
        of(
                "ACL unread",
                aSurvey().bucket("b", b -> b.aclsInForce().unread("bucket-acl")),
                "anyone",
                "s3:ListBucket",
                BUCKET,
                "");
        of(
                "an object's ACL",
                aSurvey().bucket("b", b -> b.aclsInForce().objectAcl("index.html", acl(grant("READ", "AllUsers")))),
                "anyone",
                "s3:GetObject",
                OBJECT,
                "");
        of(
                "an object of another owner",
                aSurvey().bucket("b", b -> b.aclsInForce()
                        .policy(ALL_READ)
                        .objectAcl("index.html", aclOf("5".repeat(64), grant("READ", "5".repeat(64))))),
                "anyone",
                "s3:GetObject",
                OBJECT,
                "");
        of(
                "a foreign canonical user",
                aSurvey().bucket("b", b -> b.aclsInForce().acl(acl(grant("FULL_CONTROL", "5".repeat(64))))),
                "canonical-user:" + "5".repeat(64),
                "s3:PutObject",
                OBJECT,
                "");
    }

    private void ownPrincipals() {
        String read = "s3:GetObject";
        of("an own user by its policy", aSurvey().bucket("b").user("anna", may("s3:*", "*")), USER, read, OBJECT, "");
        of("an own user by the bucket", bucket(ALL_READ).user("anna"), USER, read, OBJECT, "");
        of("an own user by nothing", aSurvey().bucket("b").user("anna"), USER, read, OBJECT, "");
        of(
                "an own deny",
                bucket(ALL_READ).user("anna", may("s3:*", "*"), mayNot("s3:GetObject", "*")),
                USER,
                read,
                OBJECT,
                "");
        of(
                "a user who does not exist",
                aSurvey().bucket("b").absent("iam-user", USER, "NoSuchEntity"),
                USER,
                read,
                OBJECT,
                "");
        of("a user unread", aSurvey().bucket("b").unread("iam-user", USER), USER, read, OBJECT, "");
        of(
                "a managed policy that is missing",
                aSurvey()
                        .bucket("b")
                        .user(
                                "anna",
                                ",'AttachedManagedPolicies':[{'PolicyArn':'arn:aws:iam::210987654321:policy/lost'}]"),
                USER,
                read,
                OBJECT,
                "");
        SurveyBuilder limited = aSurvey()
                .bucket("b")
                .managedPolicy("limit", may("s3:PutObject", "*"))
                .user("anna", LIMITED, may("s3:*", "*"));
        of("a boundary that does not let", limited, USER, read, OBJECT, "");
        of("a boundary that lets", limited, USER, "s3:PutObject", OBJECT, "");
        of(
                "a boundary that is missing",
                aSurvey().bucket("b").user("anna", LIMITED, may("s3:*", "*")),
                USER,
                read,
                OBJECT,
                "");
        of("an organization that lets", organized().organizationPolicy("p", may("s3:*", "*")), USER, read, OBJECT, "");
        of(
                "an organization that denies",
                organized().organizationPolicy("p", may("*", "*"), mayNot("s3:GetObject", "*")),
                USER,
                read,
                OBJECT,
                "");
        of(
                "an organization that lets something else",
                organized().organizationPolicy("p", may("ec2:*", "*")),
                USER,
                read,
                OBJECT,
                "");
        of(
                "an organization that only denies something else",
                organized().organizationPolicy("p", mayNot("ec2:*", "*")),
                USER,
                read,
                OBJECT,
                "");
        of(
                "an organization that is unread",
                aSurvey().bucket("b").user("anna", may("s3:*", "*")).unread("organization-policy", "p"),
                USER,
                read,
                OBJECT,
                "");
        of("the root user", aSurvey().bucket("b"), ROOT, read, OBJECT, "");
        of(
                "the root user and the policy",
                bucket("{'Effect':'Deny','Principal':'*','Action':'s3:*','Resource':'*'}"),
                ROOT,
                "s3:DeleteBucketPolicy",
                BUCKET,
                "");
        of(
                "an outsider by the policy",
                bucket(ALL_READ.replace("'*','Action'", "{'AWS':'109876543210'},'Action'")),
                OUTSIDER,
                read,
                OBJECT,
                "");
        of("an outsider by nothing", aSurvey().bucket("b"), OUTSIDER, read, OBJECT, "");
        of(
                "another service's action",
                aSurvey().user("anna", may("cloudfront:*", "*")),
                USER,
                "cloudfront:CreateInvalidation",
                "arn:aws:cloudfront::210987654321:distribution/E1",
                "");
        of(
                "a role that is assumed",
                aSurvey().role("publisher", TRUST, "").user("anna"),
                USER,
                "sts:AssumeRole",
                ROLE,
                "");
        of(
                "a role that trusts somebody else",
                aSurvey().role("publisher", TRUST.replace("anna", "berta"), "").user("anna", may("sts:*", "*")),
                USER,
                "sts:AssumeRole",
                ROLE,
                "");
        of(
                "a role that is unread",
                aSurvey().unread("iam-role", ROLE).user("anna", may("sts:*", "*")),
                USER,
                "sts:AssumeRole",
                ROLE,
                "");
        of(
                "a service",
                bucket(
                        "{'Effect':'Allow','Principal':{'Service':'cloudfront.amazonaws.com'},'Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*'}"),
                "service:cloudfront.amazonaws.com",
                read,
                OBJECT,
                "");
    }

    private static SurveyBuilder organized() {
        return aSurvey().bucket("b").user("anna", may("s3:*", "*"));
    }

    private void keys() {
        String toUser = "{'Effect':'Allow','Principal':{'AWS':'" + USER + "'},'Action':'kms:Decrypt','Resource':'*'}";
        SurveyBuilder encrypted =
                aSurvey().bucket("b", b -> b.encryptedUnder(KEY)).user("anna", may("s3:*", "*"));
        of("a key that permits", encrypted.keyPolicy(KEY, toUser), USER, "s3:GetObject", OBJECT, "");
        of("a key that does not", encrypted, USER, "s3:PutObject", OBJECT, "");
        of(
                "a key that is unread",
                aSurvey()
                        .bucket("b", b -> b.encryptedUnder(KEY))
                        .user("anna", may("s3:*", "*"))
                        .unread("key-policy", KEY),
                USER,
                "s3:GetObject",
                OBJECT,
                "");
        of(
                "the provider's key, own user",
                aSurvey().bucket("b", b -> b.encryptedUnder("")).user("anna", may("s3:*", "*")),
                USER,
                "s3:GetObject",
                OBJECT,
                "");
        of(
                "the provider's key, outsider",
                aSurvey().bucket("b", b -> b.encryptedUnder("").policy(ALL_READ)),
                OUTSIDER,
                "s3:GetObject",
                OBJECT,
                "");
        of(
                "plain encryption that is chosen",
                encrypted,
                USER,
                "s3:PutObject",
                OBJECT,
                "s3:x-amz-server-side-encryption=AES256");
        of(
                "an object under another key",
                aSurvey()
                        .bucket("b", b -> b.policy(ALL_READ)
                                .object("index.html", "{'ServerSideEncryption':'aws:kms','SSEKMSKeyId':'" + KEY + "'}"))
                        .keyPolicy(KEY),
                "anyone",
                "s3:GetObject",
                OBJECT,
                "");
        of("the key itself", encrypted, USER, "kms:Decrypt", KEY, "");
    }

    private static String told(Case each) {
        Map<String, ContextValue> values = new HashMap<>();
        for (String pair :
                each.context().isEmpty() ? new String[0] : each.context().split(";")) {
            String[] parts = pair.split("=", 2);
            values.put(parts[0], parts.length == 2 ? ContextValue.Known.of(parts[1]) : ContextValue.UNKNOWN);
        }
        Request request =
                new Request(Actor.parse(each.who()).orElseThrow(), each.action(), each.on(), Context.given(values));
        Decision decision = new Evaluator(each.survey().account()).answer(request, true);
        List<String> lines = new ArrayList<>(List.of(each.name()));
        decision.steps().forEach(step -> lines.add("  " + step));
        lines.add("  => " + decision.outcome() + (decision.explicit() ? ", explicitly" : "") + ": " + decision.says());
        decision.because().forEach(at -> lines.add("  because " + at.aspect() + " " + at.path()));
        decision.needs()
                .forEach(need -> lines.add("  needs " + need.aspect() + " of " + need.of() + ": " + need.why()));
        return String.join("\n", lines);
    }

    private static Map<String, String> expected() throws IOException {
        try (InputStream in = ExplainedDecisionsTest.class.getResourceAsStream("explained.txt")) {
            String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            return List.of(text.strip().split("\n\n")).stream()
                    .collect(Collectors.toMap(part -> part.lines().findFirst().orElseThrow(), part -> part));
        }
    }

    @TestFactory
    List<DynamicTest> everyStepIsSaid() throws IOException {
        visitors();
        accessLists();
        ownPrincipals();
        keys();
        Map<String, String> expected = expected();
        assertThat(expected.keySet())
                .containsExactlyInAnyOrderElementsOf(
                        cases.stream().map(Case::name).toList());
        return cases.stream()
                .map(each -> DynamicTest.dynamicTest(
                        each.name(), () -> assertThat(told(each)).isEqualTo(expected.get(each.name()))))
                .toList();
    }
}
