package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.secret.Secret;
import warden.core.secret.SecretFinder;

/** Finds keys, tokens and passwords in the text of a pipeline. */
final class PipelineSecretInFile implements PipelineCheck {
    private static final CheckCard CARD = new CheckCard(
            "pipeline-secret-in-file",
            Area.PIPELINE,
            Severity.CRITICAL,
            "a key, token or password in the text (masked in every output)",
            "pipeline-file",
            "Whoever can read the repository, now or in its history, can use it.",
            "Revoke it now, then keep its successor in the secrets of the repository's host, or better, let the pipeline assume a role by token.",
            "IAM User Guide, \"Security best practices in IAM\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public boolean readsTextOnly() {
        return true;
    }

    @Override
    public List<Verdict> examine(Subject subject) {
        String text = subject.pipeline().text().text();
        List<Finding> findings = new ArrayList<>();
        List<String> lines = SecretFinder.masked(text).lines().toList();
        for (Secret secret : SecretFinder.find(text)) {
            String line =
                    secret.line() <= lines.size() ? lines.get(secret.line() - 1).strip() : "";
            String says = "Line " + secret.line() + " holds " + secret.kind() + ".";
            findings.add(Finding.of(
                            CARD,
                            subject.pipeline().subject(),
                            subject.site(),
                            says,
                            List.of(subject.pipeline().text().cite(secret.line(), line)))
                    .at(line));
        }
        return subject.verdicts(findings, false);
    }
}
