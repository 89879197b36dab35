package warden.core.azure.checks.credential;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.azure.audit.PublisherCheck;
import warden.core.azure.principal.Principal;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.Pipeline;

/** Finds passwords of publishers that live longer than half a year. */
final class PrincipalSecretLong implements PublisherCheck {
    private static final CheckCard CARD = new CheckCard(
            "principal-secret-long",
            Area.CREDENTIAL,
            Severity.MEDIUM,
            "a publisher signs in by a password that lives long, or where a token would do",
            "application, service-principal",
            "A password that leaks is good for months, and nobody sees it used.",
            "Let the pipeline sign in by a federated credential, or make passwords that live 180 days at most.",
            "Microsoft Entra documentation, \"Workload identity federation\"");

    /** The forges whose pipelines get a token that the directory can be told to take. */
    private static final Set<Pipeline.Kind> FORGES =
            Set.of(Pipeline.Kind.GITHUB_WORKFLOW, Pipeline.Kind.GITLAB_PIPELINE, Pipeline.Kind.AZURE_PIPELINE);

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> examine(PublisherCheck.Of subject) {

        Principal principal = subject.publisher().principal();
        for (Principal.Secret secret : principal.secrets()) {
            if (!secret.isPassword() || !secret.isAlive(subject.context().at())) {
                continue;
            }
            boolean isLong = secret.start().isEmpty()
                    || secret.end().isEmpty()
                    || Duration.between(secret.start().get(), secret.end().get())
                                    .toDays()
                            > 180;
            boolean isUsed = isUsed(subject);
            if (isLong || isUsed) {
                return subject.flagged(
                        CARD,
                        subject.called() + " has a password that "
                                + (isLong
                                        ? "lives"
                                                + secret.end()
                                                        .map(end -> " until "
                                                                + end.toString().substring(0, 10))
                                                        .orElse(" without end")
                                        : "a pipeline uses where a token would do")
                                + ".",
                        List.of(secret.at()));
            }
        }
        return subject.open(principal.unread());
    }

    /** True when a pipeline of a forge that hands out tokens signs in by the password. */
    private static boolean isUsed(PublisherCheck.Of subject) {
        return subject
                .context()
                .publishing()
                .deployments()
                .stepsOf(subject.publisher().principal())
                .stream()
                .filter(of -> FORGES.contains(of.pipeline().kind()))
                .flatMap(of -> of.step().credential().stream())
                .anyMatch(use -> use.kind() == CredentialUse.Kind.PRINCIPAL_BY_PASSWORD);
    }
}
