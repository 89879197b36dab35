package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.access.Truth;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.policy.Statement;

/** Finds grants to everyone, or to the CDN, of more than reading objects. */
final class PolicyWiderThanNeeded implements PolicyCheck {
    private static final Set<String> NEEDED = Set.of("s3:getobject", "s3:getobjectversion", "s3:listbucket");
    private static final CheckCard CARD = new CheckCard(
            "policy-wider-than-needed",
            Area.POLICY,
            Severity.MEDIUM,
            "grants anyone (or the CDN) more than reading objects: s3:*, s3:Get* and the like",
            "bucket-policy",
            "Serving pages takes s3:GetObject; everything beyond is a way in that nobody meant to open.",
            "Grant s3:GetObject only.",
            "S3 User Guide, \"Setting permissions for website access\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(PolicySubject subject) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Statement statement : subject.document().statements()) {
            // The provider's own notion of public is wider: it counts a grant to all roles of one account.
            boolean toEveryone = PublicPolicy.isPublic(statement) == Truth.TRUE
                    && statement.conditions().stream().noneMatch(PublicPolicy::demandsNamedCallers);
            if (statement.isOpaque() || statement.effect() != Effect.ALLOW || !(toEveryone || isToCdn(statement))) {
                continue;
            }
            List<String> wide = tooWide(statement);
            if (!wide.isEmpty()) {
                String says = "The bucket policy grants " + (toEveryone ? "everyone" : "the CDN")
                        + " more than reading objects: " + String.join(", ", wide) + ".";
                verdicts.add(subject.flagged(CARD, statement.at().toString(), says, List.of(subject.cite(statement))));
            }
        }
        return verdicts;
    }

    private static boolean isToCdn(Statement statement) {
        return statement.principals().stream()
                .flatMap(clause -> clause.elements().stream())
                .anyMatch(element -> element instanceof PrincipalElement.OriginAccessIdentity
                        || (element instanceof PrincipalElement.ServiceName service
                                && service.name().equals("cloudfront.amazonaws.com")));
    }

    private static List<String> tooWide(Statement statement) {
        if (statement.actions().negated()) {
            return List.of("everything except "
                    + statement.actions().patterns().stream()
                            .map(ActionPattern::text)
                            .collect(Collectors.joining(", ")));
        }
        return statement.actions().patterns().stream()
                .filter(action -> ActionCatalogue.shipped().matching(action.glob()).stream()
                        .anyMatch(covered -> !NEEDED.contains(covered.lowerCaseName())))
                .map(ActionPattern::text)
                .toList();
    }
}
