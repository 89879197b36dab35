package warden.core.power;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.algebra.TextSet;
import warden.core.policy.Condition;
import warden.core.policy.Context;
import warden.core.policy.PolicyDocument;
import warden.core.policy.PrincipalElement;
import warden.core.policy.Statement;

/**
 * What tokens of a repository host a role's trust policy lets in: one statement of it, for one issuer.
 *
 * <p>Source: IAM User Guide, "Create a role for OpenID Connect federation"; GitHub Docs, "OpenID Connect reference"; GitLab Docs, "Configure OpenID
 * Connect in AWS".
 *
 * @param issuer the host of the tokens' issuer, with its path: {@code token.actions.githubusercontent.com}
 * @param subjects the subjects that are let in
 * @param pinsAudience true when the token has to be meant for somebody in particular
 * @param pinsOtherwise true when another claim of the same issuer has to have a fixed value
 */
public record TokenTrust(
        Statement statement, String issuer, Language subjects, boolean pinsAudience, boolean pinsOtherwise) {
    private static final String GITHUB = "token.actions.githubusercontent.com";
    private static final Pattern PIPELINE_ISSUER = Pattern.compile(
            "token\\.actions\\.githubusercontent\\.com(/.*)?|.*gitlab.*|.*bitbucket.*|app\\.terraform\\.io|agent\\.buildkite\\.com"
                    + "|oidc\\.circleci\\.com.*|vstoken\\.dev\\.azure\\.com.*|.*jenkins.*|.*drone.*|.*semaphore.*");
    private static final int MOST_REPOSITORIES = 25;
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
                    .forEach(issuer -> trusts.add(of(statement, issuer)));
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

    private static TokenTrust of(Statement statement, String issuer) {
        Language subjects = Language.all();
        Language audiences = Language.all();
        boolean otherwise = false;
        for (Condition condition : statement.conditions()) {
            String key = condition.lowerCaseKey();
            if (!key.startsWith(issuer + ":")) {
                continue;
            }
            Condition.Side side = condition.side(Context.empty());
            Optional<Language> values =
                    side.values() instanceof TextSet texts ? Optional.of(texts.texts()) : Optional.empty();
            if (key.equals(issuer + ":sub")) {
                subjects = values.isPresent() ? subjects.intersect(values.get()) : subjects;
            } else if (key.equals(issuer + ":aud")) {
                audiences = values.isPresent() ? audiences.intersect(values.get()) : audiences;
            } else {
                otherwise |= values.filter(texts -> !texts.isEverything()).isPresent()
                        && !condition.operator().isNegated()
                        && !condition.ifExists();
            }
        }
        return new TokenTrust(statement, issuer, subjects, !audiences.isEverything(), otherwise);
    }

    public boolean isGithub() {
        return issuer.startsWith(GITHUB);
    }

    /** The owner and name of a repository. */
    private static Optional<Matcher> repository(String issuer, String subject) {
        Pattern pattern = issuer.startsWith(GITHUB)
                ? Pattern.compile("repo:([^:/]+)/([^:/]+):.*", Pattern.DOTALL)
                : Pattern.compile("project_path:([^:/]+)/([^:]+):.*", Pattern.DOTALL);
        Matcher matcher = pattern.matcher(subject);
        return matcher.matches() ? Optional.of(matcher) : Optional.empty();
    }

    private boolean namesRepositories() {
        return isGithub() || issuer.contains("gitlab");
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

    /** Returns how well the subjects are pinned. */
    public Pinning pinning() {
        if (subjects.isEmpty() || pinsOtherwise) {
            return Pinning.REPOSITORIES;
        }
        if (!namesRepositories()) {
            return subjects.isEverything() ? Pinning.NOBODY : Pinning.REPOSITORIES;
        }
        Language left = subjects;
        for (int i = 0; i < MOST_REPOSITORIES && !left.isEmpty(); i++) {
            Optional<Matcher> repository = left.witness().flatMap(subject -> repository(issuer, subject));
            if (repository.isEmpty()) {
                return owner(subjects);
            }
            String prefix =
                    repository.get().group().substring(0, repository.get().end(2)) + ":";
            left = left.minus(literalThenAnything(prefix));
        }
        return left.isEmpty() ? Pinning.REPOSITORIES : owner(subjects);
    }

    private Pinning owner(Language whole) {
        Language left = whole;
        for (int i = 0; i < MOST_REPOSITORIES && !left.isEmpty(); i++) {
            String begin = isGithub() ? "repo:" : "project_path:";
            Optional<String> subject =
                    left.witness().filter(text -> text.startsWith(begin) && text.indexOf('/') > begin.length());
            if (subject.isEmpty()) {
                return Pinning.NOBODY;
            }
            left = left.minus(
                    literalThenAnything(subject.get().substring(0, subject.get().indexOf('/') + 1)));
        }
        return left.isEmpty() ? Pinning.OWNER : Pinning.NOBODY;
    }

    private static Language literalThenAnything(String prefix) {
        return Language.matching(Glob.literal(prefix).then(Glob.of(Glob.MANY)));
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
        return literalThenAnything(prefix).isSubsetOf(subjects);
    }
}
