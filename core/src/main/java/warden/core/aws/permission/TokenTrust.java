package warden.core.aws.permission;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.TextSet;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.Effect;
import warden.core.aws.policy.Operator.Family;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;

/**
 * What tokens of a repository host a role's trust policy lets in: one statement of it, for one issuer.
 *
 * <p>Source: IAM User Guide, "Create a role for OpenID Connect federation"; GitHub Docs, "OpenID Connect reference"; GitLab Docs, "Configure OpenID
 * Connect in AWS".
 *
 * @param issuer the host of the tokens' issuer, with its path: {@code token.actions.githubusercontent.com}
 * @param subjects the subjects that are let in
 * @param pinsAudience true when the token has to be meant for somebody in particular
 * @param otherwise how well other claims than the subject pin the repository
 */
public record TokenTrust(
        Statement statement, String issuer, Language subjects, boolean pinsAudience, Pinning otherwise) {
    private static final String GITHUB = "token.actions.githubusercontent.com";
    private static final Pattern PIPELINE_ISSUER = Pattern.compile(
            "token\\.actions\\.githubusercontent\\.com(/.*)?|.*gitlab.*|.*bitbucket.*|app\\.terraform\\.io|agent\\.buildkite\\.com"
                    + "|oidc\\.circleci\\.com.*|vstoken\\.dev\\.azure\\.com.*|.*jenkins.*|.*drone.*|.*semaphore.*");
    /** The claims that only one repository's pipelines carry. A branch, an environment or an event is carried by anybody's. */
    private static final Set<String> REPOSITORY_CLAIMS = Set.of(
            "repository",
            "repository_id",
            "workflow_ref",
            "job_workflow_ref",
            "project_path",
            "project_id",
            "repositoryuuid",
            "pipeline_slug",
            "pipeline_id",
            "oidc.circleci.com/project-id",
            "terraform_workspace_id",
            "terraform_project_id");

    private static final Set<String> OWNER_CLAIMS = Set.of(
            "repository_owner",
            "repository_owner_id",
            "enterprise",
            "enterprise_id",
            "namespace_path",
            "namespace_id",
            "workspaceuuid",
            "organization_slug",
            "organization_id",
            "terraform_organization_id");

    /** Neither owners nor repositories hold a colon. */
    private static final Language PULL_REQUESTS = Language.matching(
            Glob.literal("repo:").then(Glob.of(Glob.MANY_IN_PART)).then(Glob.literal(":pull_request")));

    private static final Language GITHUB_BRANCHES = Language.matching(Glob.parse("repo:*:ref:refs/heads/*"));
    private static final Language GITLAB_BRANCHES =
            Language.matching(Glob.parse("project_path:*:ref_type:branch:ref:*"));

    /** Returns the trusts in tokens of pipelines that a trust policy holds. */
    public static List<TokenTrust> of(PolicyDocument trust) {
        List<TokenTrust> trusts = new ArrayList<>();
        for (Statement statement : trust.statements()) {
            if (statement.isOpaque() || !statement.mayAllow()) {
                continue;
            }
            statement.principals().stream()
                    .flatMap(clause -> clause.elements().stream())
                    .flatMap(element -> issuer(element).stream())
                    .filter(issuer -> PIPELINE_ISSUER.matcher(issuer).matches())
                    .map(issuer -> of(trust, statement, issuer))
                    .filter(each -> !each.subjects().isEmpty())
                    .forEach(trusts::add);
        }
        return trusts;
    }

    private static Optional<String> issuer(PrincipalElement element) {
        if (element instanceof PrincipalElement.Federated federated) {
            int at = federated.provider().indexOf(":oidc-provider/");
            return at < 0
                    ? Optional.empty()
                    : Optional.of(federated
                            .provider()
                            .substring(at + ":oidc-provider/".length())
                            .toLowerCase(Locale.ROOT));
        }
        return Optional.empty();
    }

    private static TokenTrust of(PolicyDocument trust, Statement statement, String issuer) {
        Language subjects = Language.all();
        Language audiences = Language.all();
        boolean owner = false;
        boolean repository = false;
        for (Condition condition : statement.conditions()) {
            String key = condition.lowerCaseKey();
            if (!key.startsWith(issuer + ":")) {
                continue;
            }
            Optional<Language> values = demanded(condition, key);
            String claim = key.substring(issuer.length() + 1);
            if (claim.equals("sub")) {
                subjects = values.isPresent() ? subjects.intersect(values.get()) : subjects;
            } else if (claim.equals("aud")) {
                audiences = values.isPresent() ? audiences.intersect(values.get()) : audiences;
            } else if (values.isPresent() && isFixed(condition)) {
                owner |= OWNER_CLAIMS.contains(claim);
                repository |= REPOSITORY_CLAIMS.contains(claim);
            }
        }
        for (Statement deny : trust.statements()) {
            if (!takesFrom(deny, issuer)) {
                continue;
            }
            if (deny.conditions().isEmpty()) {
                subjects = Language.none();
                continue;
            }
            Condition condition = deny.conditions().get(0);
            String key = condition.lowerCaseKey();
            Optional<Language> denied = values(condition);
            if (key.equals(issuer + ":sub") && denied.isPresent()) {
                subjects = subjects.minus(denied.get());
            } else if (key.equals(issuer + ":aud") && denied.isPresent()) {
                audiences = audiences.minus(denied.get());
            } else if (key.startsWith(issuer + ":") && condition.operator().isNegated() && isFixed(condition)) {
                // All are denied but those who carry one of the values.
                owner |= OWNER_CLAIMS.contains(key.substring(issuer.length() + 1));
                repository |= REPOSITORY_CLAIMS.contains(key.substring(issuer.length() + 1));
            }
        }
        Pinning otherwise = repository ? Pinning.REPOSITORIES : owner ? Pinning.OWNER : Pinning.NOBODY;
        return new TokenTrust(statement, issuer, subjects, !audiences.isEverything(), otherwise);
    }

    /** True for a deny of the whole issuer under one condition at most; what more conditions leave is not taken away. */
    private static boolean takesFrom(Statement deny, String issuer) {
        return !deny.isOpaque()
                && deny.effect() == Effect.DENY
                && deny.actions().covers("sts:assumerolewithwebidentity")
                && deny.conditions().size() <= 1
                && deny.principals().stream()
                        .anyMatch(clause -> !clause.negated()
                                && (clause.reachesEveryone()
                                        || clause.elements().stream().anyMatch(element -> issuer(element)
                                                .filter(issuer::equals)
                                                .isPresent())));
    }

    private static Optional<Language> values(Condition condition) {
        return condition.side(Context.empty()).values() instanceof TextSet texts
                ? Optional.of(texts.texts())
                : Optional.empty();
    }

    /**
     * Returns the values that a token must carry; absent where the condition also holds for one without the claim. Every token says for whom
     * it is meant. Source: OpenID Connect Core, "ID Token"; IAM User Guide, "Set operators for multi-valued context keys".
     */
    private static Optional<Language> demanded(Condition condition, String key) {
        boolean holdsWithout = condition.ifExists()
                || condition.operator().family() == Family.PRESENCE
                || (condition.quantifier() == Condition.Quantifier.ALL && !key.endsWith(":aud"));
        return holdsWithout && !condition.operator().isNegated() ? Optional.empty() : values(condition);
    }

    private static boolean isFixed(Condition condition) {
        return condition.values().stream()
                .allMatch(value -> value.length() > 1 && value.indexOf('?') < 0 && value.indexOf('*') < 0);
    }

    public boolean isGithub() {
        return issuer.startsWith(GITHUB);
    }

    /** How well the repository is pinned. */
    public enum Pinning {
        /** To one or a few repositories. */
        REPOSITORIES,
        /** To all repositories of one owner. */
        OWNER,
        /** To nobody in particular. */
        NOBODY
    }

    /** Returns how well the token's claims are pinned, all taken together. */
    public Pinning pinning() {
        Pinning bySubject = SubjectForm.of(issuer).pinning(subjects);
        return bySubject.compareTo(otherwise) <= 0 ? bySubject : otherwise;
    }

    /** Returns what of untrusted code is let in: {@code pull requests}, {@code any branch}; empty when neither is. */
    public List<String> admits() {
        Set<String> admits = new LinkedHashSet<>();
        if (isGithub()) {
            if (!subjects.intersect(PULL_REQUESTS).isEmpty()) {
                admits.add("pull requests");
            }
            if (anyBranch(GITHUB_BRANCHES, ":ref:refs/heads/")) {
                admits.add("any branch");
            }
        } else if (issuer.contains("gitlab") && anyBranch(GITLAB_BRANCHES, ":ref_type:branch:ref:")) {
            admits.add("any branch");
        }
        return List.copyOf(admits);
    }

    /** True when, for some repository, every branch is let in. */
    private boolean anyBranch(Language branches, String part) {
        Optional<String> witness = subjects.intersect(branches).witness();
        if (witness.isEmpty()) {
            return false;
        }
        String prefix = witness.get().substring(0, witness.get().indexOf(part) + part.length());
        return Language.beginning(prefix).isSubsetOf(subjects);
    }
}
