package warden.core.aws.checks.cdn;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.access.Extent;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.audit.BucketCheck;
import warden.core.aws.cdn.UnreadDistribution;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.reach.Grantee;
import warden.core.survey.Need;

/** Finds bucket policies that still let in a distribution or identity which is not the site's. */
final class OriginIdentityOtherDistribution implements BucketCheck {
    private static final CheckCard CARD = new CheckCard(
            "origin-identity-other-distribution",
            Area.CDN,
            Severity.MEDIUM,
            "the bucket still allows a distribution or identity that is not one of the site's",
            "bucket-policy, distribution, origin-identity",
            "Whoever controls that distribution, today or after it is deleted and forgotten, reads the bucket through it.",
            "Remove the old distribution or identity from the bucket policy.",
            "CloudFront Developer Guide, \"Restrict access to an Amazon S3 origin\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final String CDN = "cloudfront.amazonaws.com";

    /** Somebody of the CDN that the policy names. */
    private record Edge(String called, Grantee grantee) {}

    @Override
    public List<Verdict> examine(Subject subject) {
        Optional<PolicyDocument> policy = subject.bucket().policy().found();
        if (policy.isEmpty()) {
            return List.of(subject.bucket()
                    .policy()
                    .missing()
                    .map(need -> subject.unknown(List.of(need)))
                    .orElse(subject.clean()));
        }
        Set<Edge> named = new LinkedHashSet<>();
        for (Statement statement : policy.get().statements()) {
            if (!statement.isOpaque() && statement.effect() == Effect.ALLOW) {
                named.addAll(edges(subject, statement));
            }
        }
        List<Verdict> verdicts = new ArrayList<>();
        for (Edge edge : named) {
            if (!isOwn(subject, edge)) {
                Extent read = subject.reach().extent(subject.bucket(), edge.grantee(), Ability.READ);
                List<Need> unread = unread(subject, edge);
                if (read.isSome() && !unread.isEmpty()) {
                    verdicts.add(subject.unknown(unread));
                } else if (read.isSome()) {
                    verdicts.add(new Verdict.Flagged(Finding.of(
                                    CARD,
                                    subject.bucket().arn(),
                                    subject.site(),
                                    "The bucket still lets " + edge.called() + " read, which is not one of its site's.",
                                    read.because())
                            .at(edge.called())
                            .with(read.witness())));
                } else if (read.kind() == Extent.Kind.UNKNOWN) {
                    verdicts.add(subject.unknown(subject.needs(read)));
                }
            }
        }
        return verdicts.isEmpty() ? List.of(subject.clean()) : verdicts;
    }

    private static List<Edge> edges(Subject subject, Statement statement) {
        List<Edge> edges = new ArrayList<>();
        for (PrincipalElement element : statement.principals().stream()
                .flatMap(clause -> clause.elements().stream())
                .toList()) {
            if (element instanceof PrincipalElement.OriginAccessIdentity identity) {
                edges.add(identity(identity.id()));
            } else if (element instanceof PrincipalElement.CanonicalUser canonical) {
                subject.account().canonicalIds().originIdentities().forEach((id, canonicalId) -> {
                    if (canonicalId.equals(canonical.id())) {
                        edges.add(identity(id));
                    }
                });
            } else if (element instanceof PrincipalElement.ServiceName service
                    && service.name().equals(CDN)) {
                statement.conditions().stream()
                        .filter(condition -> condition.lowerCaseKey().equals("aws:sourcearn")
                                && !condition.operator().isNegated())
                        .flatMap(condition -> condition.values().stream())
                        .filter(arn -> arn.contains(":distribution/") && arn.indexOf('*') < 0 && arn.indexOf('?') < 0)
                        .forEach(arn -> edges.add(new Edge(
                                "the distribution " + arn,
                                new Grantee(
                                        arn,
                                        new Actor.Service(CDN),
                                        Map.of(
                                                "aws:SourceArn",
                                                ContextValue.Known.of(arn),
                                                "aws:SourceAccount",
                                                ContextValue.UNKNOWN)))));
            }
        }
        return edges;
    }

    private static Edge identity(String id) {
        return new Edge("the origin access identity " + id, new Grantee(new Actor.OriginIdentity(id)));
    }

    /** Returns the distributions that were not read and may be the one that is named, or use the identity that is. */
    private static List<Need> unread(Subject subject, Edge edge) {
        String arn = edge.grantee().label();
        boolean named = arn.startsWith("arn:");
        return UnreadDistribution.needs(subject.cloud().accounts().stream()
                .flatMap(account -> account.edges().unreadDistributions().stream()
                        .filter(unread -> !named
                                || unread.arn().equals(arn)
                                || (unread.arn().equals(account.number())
                                        && arn.contains("::" + account.number() + ":"))))
                .filter(unread -> unread.mayServe(subject.bucket().name())));
    }

    private static boolean isOwn(Subject subject, Edge edge) {
        return subject.cloud().originsAt(subject.bucket().name()).stream()
                .anyMatch(
                        each -> edge.called().endsWith(" " + each.distribution().arn())
                                || each.origin()
                                        .identity()
                                        .filter(id -> edge.called().endsWith(" " + id))
                                        .isPresent());
    }
}
