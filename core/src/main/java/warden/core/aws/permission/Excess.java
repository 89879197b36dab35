package warden.core.aws.permission;

import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.catalogue.ServiceAction.Level;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.storage.Bucket;
import warden.core.pipeline.Needed;

/**
 * What a publishing credential is allowed beyond what publishing needs.
 *
 * @param services the services, by prefix, that publishing never needs; {@code *} for all
 * @param actions the actions beyond need within the services that it does need
 * @param all every catalogued action that is allowed and not needed
 */
public record Excess(Set<String> services, List<ServiceAction> actions, List<ServiceAction> all) {
    /** Services that publishing a site works with. */
    private static final Set<String> PUBLISHING = Set.of("s3", "cloudfront", "kms", "sts");
    /** What the account's own build services need beside. Source: CodeBuild User Guide, "Allow CodeBuild to interact with other AWS services". */
    private static final Set<String> BUILDING = Set.of(
            "logs",
            "codebuild",
            "codepipeline",
            "codestar-connections",
            "codeconnections",
            "codecommit",
            "ssm",
            "secretsmanager",
            "ecr");
    /** Part of every upload in pieces: to end one that failed, and to see what is left of it. */
    private static final Set<String> OF_UPLOADS = Set.of(
            "s3:abortmultipartupload",
            "s3:listmultipartuploadparts",
            "s3:listbucketmultipartuploads",
            "s3:putobjectacl",
            "cloudfront:getinvalidation",
            "cloudfront:listinvalidations",
            "kms:generatedatakey",
            "kms:decrypt",
            "kms:encrypt");

    public Excess {
        services = Collections.unmodifiableSet(new TreeSet<>(services));
        actions = List.copyOf(actions);
        all = List.copyOf(all);
    }

    /** Compares what is allowed with what is needed. */
    public static Excess of(PublishingPrincipal publisher, EffectivePermissions permissions, List<Needed> needed) {
        Set<String> neededActions = needed.stream()
                .map(each -> each.action().toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
        Set<String> fitting = new LinkedHashSet<>(PUBLISHING);
        neededActions.forEach(action -> fitting.add(action.substring(0, action.indexOf(':'))));
        if (isAssumedByBuilds(publisher)) {
            fitting.addAll(BUILDING);
        }
        Set<String> services = new TreeSet<>(permissions.services());
        services.removeAll(fitting);
        List<ServiceAction> beyond = permissions.actions().stream()
                .filter(action -> !neededActions.contains(action.lowerCaseName()))
                .toList();
        if (beyond.isEmpty()) {
            return new Excess(services, List.of(), List.of());
        }
        Language own = ownResources(publisher, needed);
        List<ServiceAction> within = beyond.stream()
                .filter(action -> fitting.contains(action.service()))
                .filter(action ->
                        !isHarmless(action, permissions.granted(action.name()).possible(), own))
                .toList();
        return new Excess(services, within, beyond);
    }

    /** Reading one's own site, and what belongs to every upload, is no excess worth a word. */
    private static boolean isHarmless(ServiceAction action, Language resources, Language own) {
        boolean reads = action.level() == Level.READ || action.level() == Level.LIST;
        return (reads || OF_UPLOADS.contains(action.lowerCaseName()))
                && (resources.isSubsetOf(own)
                        || action.resourceType().equals("*")
                        || action.service().equals("cloudfront")
                        || action.service().equals("sts"));
    }

    private static Language ownResources(PublishingPrincipal publisher, List<Needed> needed) {
        Set<String> buckets = publisher.sites().stream()
                .flatMap(site -> site.buckets().stream())
                .map(Bucket::arn)
                .collect(Collectors.toCollection(LinkedHashSet::new));
        Set<String> others = new LinkedHashSet<>();
        for (Needed each : needed) {
            Optional<String> bucket = Bucket.nameIn(each.on());
            bucket.map(Bucket::arnOf).ifPresent(buckets::add);
            if (bucket.filter(name -> !name.contains("*")).isEmpty()) {
                others.add(each.on());
            }
        }
        Language own = Language.none();
        for (String bucket : buckets) {
            own = own.union(Language.of(bucket)).union(Language.matching(Glob.parse(bucket + "/*")));
        }
        for (String other : others) {
            own = own.union(Language.matching(Glob.parse(other)));
        }
        return own;
    }

    private static boolean isAssumedByBuilds(PublishingPrincipal publisher) {
        return publisher.principal().trust().stream()
                .flatMap(trust -> trust.statements().stream())
                .filter(Statement::mayAllow)
                .flatMap(statement -> statement.principals().stream())
                .flatMap(clause -> clause.elements().stream())
                .anyMatch(element -> element instanceof PrincipalElement.ServiceName service
                        && service.name().startsWith("code"));
    }
}
