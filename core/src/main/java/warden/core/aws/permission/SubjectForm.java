package warden.core.aws.permission;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.permission.TokenTrust.Pinning;

/**
 * How an issuer of pipelines' tokens spells the subject: where in it the owner (an organization, a workspace) and the repository (a project, a
 * pipeline) stand.
 *
 * <p>Source: GitHub Docs, "OpenID Connect reference"; GitLab Docs, "Configure OpenID Connect in AWS"; Bitbucket Support, "Deploy on AWS using
 * Bitbucket Pipelines OpenID Connect"; Terraform Docs, "Dynamic Provider Credentials in HCP Terraform"; Buildkite Docs, "OIDC in Buildkite
 * Pipelines"; CircleCI Docs, "Using OpenID Connect tokens in jobs"; Azure DevOps Docs, "Workload identity federation".
 *
 * @param ownerInIssuer true when the issuer's own address names the owner, so that nobody else's token bears it
 * @param owners for each spelling: what stands before the end of the owner; the whole match is one owner's
 * @param repositories for each spelling: what stands before the end of the repository
 */
record SubjectForm(boolean ownerInIssuer, List<Pattern> owners, List<Pattern> repositories) {
    private static final int MOST = 25;
    private static final Pattern WORKSPACE = Pattern.compile("(organization:[^:]+:project:)[^:]*(:workspace:[^:]+:).*");

    private static final SubjectForm GITHUB = form(
            false,
            List.of("repo:[^:/]+/", "repository_owner(_id)?:[^:]+(:|$)", "enterprise(_id)?:[^:]+(:|$)"),
            List.of(
                    "repo:[^:/]+/[^:/]+:",
                    "(repository_owner(_id)?:[^:]+:)?repository(_id)?:[^:]+(:|$)",
                    "(job_)?workflow_ref:[^:/]+/[^:/]+/"));
    private static final SubjectForm GITLAB = form(
            false, List.of("project_path:[^:/]+/"), List.of("project_path:[^:/]+/[^:]+(:|$)", "project_id:[0-9]+:"));
    private static final SubjectForm BITBUCKET = form(true, List.of(), List.of("\\{?[0-9a-fA-F-]{8,}}?:"));
    private static final SubjectForm TERRAFORM =
            form(false, List.of("organization:[^:]+:"), List.of("organization:[^:]+:project:[^:]*(:|$)"));
    private static final SubjectForm BUILDKITE =
            form(false, List.of("organization:[^:]+:"), List.of("organization:[^:]+:pipeline:[^:]+(:|$)"));
    private static final SubjectForm CIRCLE =
            form(true, List.of("org/[^/]+/"), List.of("org/[^/]+/project/[^/]+(/|$)"));
    private static final SubjectForm AZURE = form(true, List.of("sc://[^/]+/"), List.of("sc://[^/]+/[^/]+(/|$)"));

    private static SubjectForm form(boolean ownerInIssuer, List<String> owners, List<String> repositories) {
        return new SubjectForm(
                ownerInIssuer,
                owners.stream().map(Pattern::compile).toList(),
                repositories.stream().map(Pattern::compile).toList());
    }

    /** Returns the form of an issuer's subjects; one without spellings where it is not known. */
    static SubjectForm of(String issuer) {
        if (issuer.startsWith("token.actions.githubusercontent.com")) {
            return GITHUB;
        }
        if (issuer.contains("gitlab")) {
            return GITLAB;
        }
        if (issuer.contains("bitbucket")) {
            return BITBUCKET;
        }
        if (issuer.contains("terraform")) {
            return TERRAFORM;
        }
        if (issuer.contains("buildkite")) {
            return BUILDKITE;
        }
        if (issuer.contains("circleci")) {
            return CIRCLE;
        }
        return issuer.contains("dev.azure.com") ? AZURE : form(false, List.of(), List.of());
    }

    /** Returns how well a set of subjects is pinned. */
    Pinning pinning(Language subjects) {
        if (subjects.isEmpty()) {
            return Pinning.REPOSITORIES;
        }
        if (repositories.isEmpty()) {
            return subjects.isEverything() ? Pinning.NOBODY : Pinning.REPOSITORIES;
        }
        if (isExhausted(subjects, repositories)) {
            return Pinning.REPOSITORIES;
        }
        return ownerInIssuer || isExhausted(subjects, owners) ? Pinning.OWNER : Pinning.NOBODY;
    }

    /** True when a few owners, or repositories, have all the subjects among them. */
    private static boolean isExhausted(Language subjects, List<Pattern> spellings) {
        Language left = subjects;
        for (int i = 0; i < MOST && !left.isEmpty(); i++) {
            Optional<Language> same = left.witness().flatMap(subject -> alike(subject, spellings));
            if (same.isEmpty()) {
                return false;
            }
            left = left.minus(same.get());
        }
        return left.isEmpty();
    }

    /** Returns all subjects of the owner or repository of this one; absent when it is spelled in no known way. */
    private static Optional<Language> alike(String subject, List<Pattern> spellings) {
        for (Pattern spelling : spellings) {
            Matcher matcher = spelling.matcher(subject);
            if (matcher.lookingAt()) {
                Language same = Language.beginning(matcher.group());
                Matcher workspace = WORKSPACE.matcher(subject);
                // A workspace's name is one organization's alone, whatever project it is in.
                return Optional.of(
                        matcher.group().contains(":project:") && workspace.matches()
                                ? same.union(Language.matching(Glob.literal(workspace.group(1))
                                        .then(Glob.of(Glob.MANY))
                                        .then(Glob.literal(workspace.group(2)))
                                        .then(Glob.of(Glob.MANY))))
                                : same);
            }
        }
        return Optional.empty();
    }
}
