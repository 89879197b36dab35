package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.document.DisplayText;
import warden.core.document.Pointer;

/** Finds text of a template that nobody replaced. */
final class PolicyTemplateText implements PolicyCheck {
    private static final Pattern TEMPLATE = Pattern.compile("<[A-Za-z][^<>]*>|\\{\\{[^{}]*}}|\\$\\{[A-Z][A-Z0-9_]*}"
            + "|(?<![A-Za-z])REPLACE[A-Z_-]*(?![a-z])|(?i:replace[-_]?(me|this|with)(?![a-z]))|(?i:(?<![a-z])your[-_][a-z])"
            + "|(?i:(?<![a-z])(doc-)?example-bucket)|(?i:amzn-s3-demo-bucket)");
    private static final CheckCard CARD = new CheckCard(
            "policy-template-text",
            Area.POLICY,
            Severity.HIGH,
            "template text was left in (angle brackets, REPLACE…, YOUR-…, example-bucket)",
            "bucket-policy",
            "The statement is about a bucket or a principal of a template, not about yours.",
            "Put in the real name where the template has its own.",
            "S3 User Guide, \"Examples of Amazon S3 bucket policies\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Statement statement : subject.document().statements()) {
            texts(statement)
                    .filter(text -> TEMPLATE.matcher(text.value()).find())
                    .findFirst()
                    .ifPresent(text -> verdicts.add(subject.flagged(
                            CARD,
                            statement.at().toString(),
                            "The bucket policy still holds template text: " + DisplayText.name(text.value()) + ".",
                            List.of(subject.cite(text.at(), text.value())))));
        }
        return verdicts;
    }

    /** A text of a statement and where it stands. */
    private record Placed(Pointer at, String value) {}

    private static Stream<Placed> texts(Statement statement) {
        if (statement.isOpaque()) {
            return Stream.of(new Placed(statement.at(), statement.text()));
        }
        Stream<Placed> resources = statement.resources().stream()
                .flatMap(clause -> clause.patterns().stream())
                .map(pattern -> new Placed(pattern.at(), pattern.text()));
        Stream<Placed> principals = statement.principals().stream()
                .flatMap(clause -> clause.elements().stream())
                .filter(PrincipalElement.Unrecognised.class::isInstance)
                .map(element -> new Placed(
                        statement.at().member("Principal"), ((PrincipalElement.Unrecognised) element).text()));
        Stream<Placed> conditions = statement.conditions().stream()
                .flatMap(condition -> condition.values().stream().map(value -> new Placed(condition.at(), value)));
        return Stream.concat(resources, Stream.concat(principals, conditions));
    }
}
