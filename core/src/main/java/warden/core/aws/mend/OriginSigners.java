package warden.core.aws.mend;

import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/**
 * What edges sign with: controls that are made, controls and identities that nothing uses any more. Source: AWS CLI Command Reference,
 * cloudfront, the commands named; CloudFront API Reference, OriginAccessControlConfig, CloudFrontOriginAccessIdentityConfig.
 */
final class OriginSigners {
    private static final String CONTROL = "origin-access-control/";
    private static final String IDENTITY = "origin-access-identity/";
    private static final int LONGEST_NAME = 64;

    private OriginSigners() {}

    /** Makes the control by which edges sign for a bucket. */
    static Change control(String account, Bucket bucket, String placeholder) {
        return new Change(
                "control " + bucket.name(), Phase.LET_IN, "make-control", account, state -> Accounts.in(state, account)
                        .filter(now -> !now.survey().asked("origin-control", CONTROL + placeholder))
                        .map(now -> made(bucket, placeholder)));
    }

    /** At most 64 letters, digits, hyphens and underscores. */
    private static String controlName(String bucket) {
        String name = "sign-for-" + bucket.replaceAll("[^A-Za-z0-9_-]", "-");
        return name.length() <= LONGEST_NAME ? name : name.substring(0, LONGEST_NAME);
    }

    private static Edited made(Bucket bucket, String placeholder) {
        String name = controlName(bucket.name());
        String config = Json.text(Json.object(
                "Name",
                name,
                "Description",
                "",
                "SigningProtocol",
                "sigv4",
                "SigningBehavior",
                "always",
                "OriginAccessControlOriginType",
                "s3"));
        Call find = find(name);
        SurveyLine reading = new SurveyLine(
                "",
                1,
                "origin-control",
                CONTROL + placeholder,
                "cloudfront:GetOriginAccessControl",
                SurveyLine.Outcome.FOUND,
                Json.text(Json.object(
                        "OriginAccessControl",
                        Json.object("Id", placeholder, "OriginAccessControlConfig", new Json.Raw(config)))));
        return Edited.of(
                        "Make the control by which the edge signs for " + bucket.name(),
                        bucket.arn(),
                        BucketSetting.PROGRAM,
                        new Edited.Document(find, List.of(), Optional.empty(), Optional.of(config)),
                        Edited.Calls.of(create(config), delete("origin-access-control", placeholder))
                                .taggedBy(tag("origin-access-control", placeholder)),
                        List.of(reading))
                .making(new Edited.Made(placeholder, find))
                .unseen();
    }

    private static Call find(String name) {
        return Call.of(
                "cloudfront",
                "list-origin-access-controls",
                "--query=OriginAccessControlList.Items[?Name=='" + name + "'].Id|[0]",
                "--output=text");
    }

    private static Call create(String config) {
        return Call.with(
                config,
                "cloudfront",
                "create-origin-access-control",
                "--origin-access-control-config=file://" + Call.FILE,
                "--query=OriginAccessControl.Id",
                "--output=text");
    }

    private static Call delete(String kind, String id) {
        return Call.of("cloudfront", "delete-" + kind, "--id=" + id, "--if-match=" + Call.TAG);
    }

    private static Call tag(String kind, String id) {
        return Call.of("cloudfront", "get-" + kind, "--id=" + id, "--query=ETag", "--output=text");
    }

    /**
     * Takes away an identity or control that nothing uses. Undoing it makes one of the same settings, under another identifier.
     *
     * @param subject its identifier in surveys
     */
    static Optional<Change> removal(Account account, String subject) {
        boolean isIdentity = subject.startsWith(IDENTITY);
        String aspect = isIdentity ? "origin-identity" : "origin-control";
        String number = account.number();
        if (!isIdentity && !subject.startsWith(CONTROL)) {
            return Optional.empty();
        }
        return Optional.of(new Change(
                "signer " + subject,
                Phase.TIDY,
                isIdentity ? "remove-identity" : "remove-control",
                number,
                state -> Accounts.in(state, number)
                        .filter(now -> !now.edges().usedOriginSigners().contains(subject))
                        .flatMap(now -> now.survey().reading(aspect, subject).found())
                        .map(answer -> removed(subject, aspect, isIdentity, answer))));
    }

    private static Edited removed(String subject, String aspect, boolean isIdentity, JsonPart answer) {
        String id = subject.substring(subject.indexOf('/') + 1);
        String kind = isIdentity ? "cloud-front-origin-access-identity" : "origin-access-control";
        String list = isIdentity
                ? "CloudFrontOriginAccessIdentityList.Items[?Id=='" + id + "'].Id"
                : "OriginAccessControlList.Items[?Id=='" + id + "'].Id";
        String lists = isIdentity ? "list-cloud-front-origin-access-identities" : "list-origin-access-controls";
        Optional<Call> again = isIdentity
                ? Optional.empty()
                : answer.text("OriginAccessControl", "OriginAccessControlConfig", "Name")
                        .map(OriginSigners::find);
        return Edited.of(
                        "Take away the " + (isIdentity ? "identity " : "control ") + id
                                + ", which no edge uses any more",
                        subject,
                        BucketSetting.PROGRAM,
                        Edited.Document.of(
                                Call.of("cloudfront", lists, "--query=" + list, "--output=json"),
                                Json.text(List.of(id)),
                                "[]"),
                        Edited.Calls.of(
                                        delete(kind, id),
                                        isIdentity ? createIdentity(id, answer) : create(controlConfig(answer)))
                                .taggedBy(tag(kind, id)),
                        List.of())
                .removing(new Edited.Remade(id, again), new Edited.Gone(aspect, subject))
                .unseen();
    }

    private static String controlConfig(JsonPart answer) {
        return answer.find("OriginAccessControl", "OriginAccessControlConfig")
                .map(JsonSpelling::of)
                .orElse("{}");
    }

    /** Asked twice with the same reference the service gives the same identity, so that undoing can be started again. */
    private static Call createIdentity(String id, JsonPart answer) {
        String comment = answer.text(
                        "CloudFrontOriginAccessIdentity", "CloudFrontOriginAccessIdentityConfig", "Comment")
                .orElse("");
        return Call.with(
                Json.text(Json.object("CallerReference", "instead-of-" + id, "Comment", comment)),
                "cloudfront",
                "create-cloud-front-origin-access-identity",
                "--cloud-front-origin-access-identity-config=file://" + Call.FILE,
                "--query=CloudFrontOriginAccessIdentity.Id",
                "--output=text");
    }
}
