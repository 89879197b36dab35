package warden.core.aws.trim;

import java.util.List;
import java.util.Optional;
import warden.core.aws.permission.TokenTrust;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.document.Json;
import warden.core.document.JsonLayout;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * The trust policy that a role assumed by token should have: one repository, one branch, one audience.
 *
 * @param spelled the document as JSON, indented; what cannot be known is left to fill in, in angle brackets
 * @param isComplete false when something is left to fill in
 */
public record ProposedTrust(String spelled, boolean isComplete) {
    /** Returns the proposal; absent for credentials that no token of a repository host assumes. */
    static Optional<ProposedTrust> of(PublishingPrincipal publisher, Deployments deployments) {
        return publisher.principal().trust().stream()
                .flatMap(trust -> TokenTrust.of(trust).stream())
                .findFirst()
                .map(trust -> write(publisher, trust, deployments));
    }

    private static ProposedTrust write(PublishingPrincipal publisher, TokenTrust trust, Deployments deployments) {
        boolean github = trust.isGithub();
        String repository = repository(trust).orElse("<owner>/<repository>");
        String branch = branch(publisher, trust, deployments).orElse("main");
        String subject = github
                ? "repo:" + repository + ":ref:refs/heads/" + branch
                : "project_path:" + repository + ":ref_type:branch:ref:" + branch;
        String audience = github ? "sts.amazonaws.com" : "https://" + trust.issuer();
        String provider = "arn:aws:iam::" + publisher.account().number() + ":oidc-provider/" + trust.issuer();
        Object statement = Json.object(
                "Effect",
                "Allow",
                "Principal",
                new JsonLayout.OneLine(Json.object("Federated", provider)),
                "Action",
                "sts:AssumeRoleWithWebIdentity",
                "Condition",
                Json.object(
                        "StringEquals",
                        Json.object(trust.issuer() + ":aud", audience, trust.issuer() + ":sub", subject)));
        String spelled = JsonLayout.of(Json.object("Version", "2012-10-17", "Statement", List.of(statement)), 2);
        return new ProposedTrust(spelled, !repository.contains("<"));
    }

    /** Returns the repository when today's trust names just one. */
    private static Optional<String> repository(TokenTrust trust) {
        if (trust.pinning() != TokenTrust.Pinning.REPOSITORIES) {
            return Optional.empty();
        }
        return trust.subjects()
                .witness()
                .map(subject -> subject.split(":"))
                .filter(parts -> parts.length > 1)
                .map(parts -> parts[1]);
    }

    private static Optional<String> branch(PublishingPrincipal publisher, TokenTrust trust, Deployments deployments) {
        Optional<String> today = trust.subjects()
                .witness()
                .filter(subject ->
                        subject.contains("refs/heads/") && !trust.admits().contains("any branch"))
                .map(subject -> subject.substring(subject.indexOf("refs/heads/") + "refs/heads/".length()));
        return today.or(() -> deployments.stepsOf(publisher).stream()
                .map(step -> step.pipeline().text().text())
                .filter(text -> text.contains("master") && !text.contains("main"))
                .findFirst()
                .map(text -> "master"));
    }

    /** Returns the document as JSON. */
    public JsonPart json() {
        return JsonReader.read(spelled).root().orElseThrow();
    }
}
