package warden.core.aws.trim;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Holdings;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Arn;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.publishing.Deployments.StepOf;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/**
 * The credential of pipelines that no reading describes. What it may do is not known, yet what it needs is, since the pipelines tell that.
 *
 * @param publisher stands for it, with nothing known of its policies
 * @param called its ARN where the pipeline names a role by it, else whose credential it is
 * @param steps what it is used for
 * @param permissions what these need
 */
public record UnsurveyedPublisher(
        PublishingPrincipal publisher, String called, List<StepOf> steps, NeededPermissions permissions) {
    public UnsurveyedPublisher {
        steps = List.copyOf(steps);
    }

    /** Finds them: a credential for each role that steps name, and one for each pipeline whose steps name none that is known. */
    public static List<UnsurveyedPublisher> in(AwsCloud cloud, Deployments deployments) {
        Map<String, List<StepOf>> steps = new LinkedHashMap<>();
        for (Pipeline pipeline : deployments.pipelines()) {
            for (DeploymentStep step : pipeline.steps()) {
                // What works with another provider's tools needs nothing here.
                boolean mayBeOurs =
                        step.mayBeOf(deployments.provider()) && !pipeline.isOfOthersThan(deployments.provider());
                if (mayBeOurs && deployments.publisherOf(pipeline, step).isEmpty()) {
                    steps.computeIfAbsent(role(step).orElse(pipeline.subject()), key -> new ArrayList<>())
                            .add(new StepOf(pipeline, step));
                }
            }
        }
        return steps.values().stream()
                .map(own -> of(cloud, deployments, own))
                .filter(UnsurveyedPublisher::needsSomething)
                .toList();
    }

    /** Checking the sources out, and what is not understood beside other steps, takes no credential of the account. */
    private boolean needsSomething() {
        return !permissions.needed().isEmpty() || !permissions.open().isEmpty();
    }

    /** Returns the number of the account whose roles the pipelines assume; absent when they name none, or several accounts'. */
    public static Optional<String> accountOf(List<Pipeline> pipelines) {
        List<String> numbers = pipelines.stream()
                .flatMap(pipeline -> pipeline.steps().stream())
                .flatMap(step -> role(step).stream())
                .flatMap(role -> Arn.parse(role).stream())
                .map(Arn::account)
                .distinct()
                .toList();
        return numbers.size() == 1 ? Optional.of(numbers.get(0)) : Optional.empty();
    }

    private static Optional<String> role(DeploymentStep step) {
        return step.credential().flatMap(CredentialUse::knownRole);
    }

    private static UnsurveyedPublisher of(AwsCloud cloud, Deployments deployments, List<StepOf> steps) {
        StepOf first = steps.get(0);
        Optional<String> role = role(first.step());
        Optional<Arn> arn = role.flatMap(Arn::parse);
        Account account = arn.flatMap(named -> cloud.accounts().stream()
                        .filter(each -> each.number().equals(named.account()))
                        .findFirst())
                .orElse(cloud.accounts().get(0));
        boolean isUser = first.step()
                .credential()
                .map(CredentialUse::kind)
                .filter(Kind.ACCESS_KEY::equals)
                .isPresent();
        String file = first.pipeline().subject();
        String base = file.substring(file.lastIndexOf('/') + 1);
        String name = arn.map(Arn::name).or(() -> role).orElse(base);
        String kind = isUser ? "user" : "role";
        Arn spelled = arn.orElseGet(() -> Arn.parse("arn:aws:iam::" + account.number() + ":" + kind + "/" + name)
                .orElseThrow());
        Need need = new Need(
                "iam-" + kind, spelled.toString(), "no reading describes it", "iam:GetAccountAuthorizationDetails");
        Principal principal = new Principal(
                spelled,
                !isUser,
                name,
                "",
                Map.of(),
                Optional.empty(),
                "",
                new Holdings(List.of(), List.of(need), Optional.empty(), Optional.empty()),
                first.pipeline().cite(first.step()));
        PublishingPrincipal publisher = new PublishingPrincipal(account, principal, List.of());
        return new UnsurveyedPublisher(
                publisher,
                role.orElse("the credential of " + file),
                steps,
                NeededPermissions.of(publisher, deployments, steps));
    }
}
