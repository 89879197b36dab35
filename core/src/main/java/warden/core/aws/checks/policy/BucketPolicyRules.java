package warden.core.aws.checks.policy;

import java.util.ArrayList;
import java.util.List;
import warden.core.algebra.Language;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyProblem;
import warden.core.aws.policy.ResourceClause.ResourcePattern;
import warden.core.aws.policy.Statement;
import warden.core.document.Pointer;

/**
 * What the storage service asks of a bucket policy beyond the grammar of policies.
 * Source: S3 User Guide, "Policies and permissions in Amazon S3", and the errors of PutBucketPolicy.
 */
final class BucketPolicyRules {
    private static final int LARGEST = 20 * 1024;

    private BucketPolicyRules() {}

    /** Returns the breaches that have no check of their own: foreign services and size. */
    static List<PolicyProblem> breaches(PolicyDocument policy) {
        List<PolicyProblem> breaches = new ArrayList<>();
        if (policy.size() > LARGEST) {
            breaches.add(new PolicyProblem(
                    Pointer.ROOT, "is " + policy.size() + " characters long; a bucket policy may have 20 KB", false));
        }
        for (Statement statement : policy.statements()) {
            for (ActionPattern action : statement.actions().patterns()) {
                boolean ofStorage = List.of("s3", "", "*").contains(action.service());
                if (!ofStorage) {
                    breaches.add(new PolicyProblem(
                            action.at(), "is an action of another service; a bucket policy speaks of s3 only", false));
                }
            }
        }
        return breaches;
    }

    /** Returns the resources of a statement that lie outside the bucket. */
    static List<ResourcePattern> outside(Statement statement, String bucketArn) {
        return statement.resources().stream()
                .flatMap(clause -> clause.patterns().stream())
                .filter(pattern -> !mayBeIn(pattern, bucketArn))
                .toList();
    }

    private static boolean mayBeIn(ResourcePattern pattern, String bucketArn) {
        return mayBe(pattern, bucketArn) || mayBeObjects(pattern, bucketArn);
    }

    private static boolean mayBe(ResourcePattern pattern, String bucketArn) {
        return pattern.template()
                .constant()
                .map(glob -> glob.matches(bucketArn))
                .orElse(true);
    }

    private static boolean mayBeObjects(ResourcePattern pattern, String bucketArn) {
        String prefix = bucketArn + "/";
        return pattern.template()
                .constant()
                .map(glob -> glob.after(prefix)
                        .map(rest -> !rest.matchesNothing())
                        .orElseGet(() ->
                                !Language.matching(glob).afterPrefix(prefix).isEmpty()))
                .orElse(true);
    }

    /** Returns the actions of a statement that cannot apply to any of its resources, though others of the bucket would do. */
    static List<ActionPattern> misplaced(Statement statement, String bucketArn) {
        if (statement.isOpaque()
                || statement.actions().negated()
                || statement.resources().isEmpty()) {
            return List.of();
        }
        if (statement.resources().get().negated()) {
            return List.of();
        }
        List<ResourcePattern> resources = statement.resources().get().patterns();
        boolean bucket = resources.stream().anyMatch(pattern -> mayBe(pattern, bucketArn));
        boolean objects = resources.stream().anyMatch(pattern -> mayBeObjects(pattern, bucketArn));
        if (bucket == objects) {
            return List.of();
        }
        return statement.actions().patterns().stream()
                .filter(action -> {
                    List<ServiceAction> covered = ActionCatalogue.shipped().matching(action.glob());
                    String wanted = bucket ? "bucket" : "object";
                    return !covered.isEmpty()
                            && covered.stream()
                                    .allMatch(each -> isOnBucketOrObject(each)
                                            && !each.resourceType().equals(wanted));
                })
                .toList();
    }

    private static boolean isOnBucketOrObject(ServiceAction action) {
        return action.resourceType().equals("bucket") || action.resourceType().equals("object");
    }
}
