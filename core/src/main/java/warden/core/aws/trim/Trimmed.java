package warden.core.aws.trim;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.access.Witness;
import warden.core.aws.account.Account;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.permission.EscalationPath;
import warden.core.aws.permission.Excess;
import warden.core.aws.permission.Shortfall;
import warden.core.aws.policy.Statement;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.document.JsonPart;
import warden.core.pipeline.Needed;
import warden.core.survey.Need;
import warden.core.trim.Trimming;

/**
 * What one publishing credential needs, is granted, lacks and has too much of, and the policy that would do.
 *
 * @param called its ARN, or whose credential it is where no reading describes it
 * @param needed each action and resource once, with where it is known from
 * @param open steps that may need more: then what is needed is a lower bound
 * @param missing what is needed and refused today
 * @param unread what could not be read of its policies: then what is granted is a lower bound
 * @param granted the catalogued actions that are allowed today
 * @param services the services in which something is allowed today, by prefix; {@code *} for all
 * @param excess what is allowed and not needed
 * @param worst the most dangerous of it, worst first
 * @param policy the proposal
 * @param trust the trust policy that a role assumed by token should have; absent for others
 * @param proof what was proven about the proposal
 */
public record Trimmed(
        String called,
        PublishingPrincipal publisher,
        List<Needed> needed,
        List<NeededPermissions.Open> open,
        List<Needed> missing,
        List<Need> unread,
        List<ServiceAction> granted,
        Set<String> services,
        Excess excess,
        List<Worst> worst,
        MinimalPolicy policy,
        Optional<ProposedTrust> trust,
        Proof proof)
        implements Trimming {
    private static final int MOST_WORST = 5;

    public Trimmed {
        needed = List.copyOf(needed);
        open = List.copyOf(open);
        missing = List.copyOf(missing);
        unread = List.copyOf(unread);
        granted = List.copyOf(granted);
        worst = List.copyOf(worst);
    }

    @Override
    public boolean isUnsurveyed() {
        return publisher
                .account()
                .directory()
                .principal(publisher.principal().arn())
                .found()
                .isEmpty();
    }

    /**
     * Compares and proposes.
     *
     * @param activity what the account's log, or a rehearsal, shows the credential to have used; empty when neither was given
     * @param isMeasured true where that is all that a deployment needs, whatever its pipelines say
     */
    public static Trimmed of(
            PublishingPrincipal publisher,
            Deployments deployments,
            EffectivePermissions effective,
            List<Needed> activity,
            boolean isMeasured) {
        NeededPermissions permissions =
                isMeasured ? new NeededPermissions(List.of(), List.of()) : NeededPermissions.of(publisher, deployments);
        return of(publisher.arn(), publisher, permissions, deployments, effective, activity);
    }

    /** Compares and proposes by what pipelines, patterns and activity tell together. */
    public static Trimmed of(
            PublishingPrincipal publisher,
            Deployments deployments,
            EffectivePermissions effective,
            List<Needed> activity) {
        return of(publisher, deployments, effective, activity, false);
    }

    /** Proposes what a credential needs that no reading describes. */
    public static Trimmed of(
            UnsurveyedPublisher unsurveyed,
            Deployments deployments,
            EffectivePermissions effective,
            List<Needed> activity) {
        return of(
                unsurveyed.called(),
                unsurveyed.publisher(),
                unsurveyed.permissions(),
                deployments,
                effective,
                activity);
    }

    private static Trimmed of(
            String called,
            PublishingPrincipal publisher,
            NeededPermissions permissions,
            Deployments deployments,
            EffectivePermissions effective,
            List<Needed> activity) {
        boolean known = permissions.needed().stream().anyMatch(each -> each.evidence() == Needed.Evidence.PIPELINE);
        List<Needed> needed = merged(known || activity.isEmpty() ? permissions.needed() : List.of(), activity);
        Account account = publisher.account();
        Excess excess = Excess.of(publisher, effective, needed);
        MinimalPolicy policy = MinimalPolicy.of(needed);
        return new Trimmed(
                called,
                publisher,
                needed,
                permissions.open(),
                Shortfall.of(effective, needed).missing(),
                effective.missing(),
                effective.actions(),
                effective.services(),
                excess,
                worst(publisher, effective, excess),
                policy,
                ProposedTrust.of(publisher, deployments),
                Proof.of(account, publisher.principal(), policy, needed));
    }

    /** What the log shows and the pipelines do not explain is needed too; what both show is named once. */
    private static List<Needed> merged(List<Needed> needed, List<Needed> activity) {
        Map<String, Needed> all = new LinkedHashMap<>();
        needed.forEach(each -> all.put(each.action() + " " + each.on(), each));
        for (Needed used : activity) {
            boolean explained = needed.stream()
                    .anyMatch(each -> each.action().equals(used.action())
                            && warden.core.algebra.Language.matching(warden.core.algebra.Glob.parse(used.on()))
                                    .isSubsetOf(warden.core.algebra.Language.matching(
                                            warden.core.algebra.Glob.parse(each.on()))));
            if (!explained) {
                all.putIfAbsent(used.action() + " " + used.on(), used);
            }
        }
        return List.copyOf(all.values());
    }

    private static List<Worst> worst(PublishingPrincipal publisher, EffectivePermissions effective, Excess excess) {
        List<Worst> worst = new ArrayList<>();
        Set<String> named = new TreeSet<>();
        EscalationPath.Ways ways = EscalationPath.openTo(effective);
        for (EscalationPath.Open open : ways.open()) {
            Witness first = open.requests().get(0).witness();
            if (named.add(first.action())) {
                worst.add(new Worst(
                        first.action(), first.on(), "can " + open.path().says()));
            }
        }
        Map<String, String> dangers = Map.of(
                "s3:PutBucketPolicy", "can open the bucket to everyone",
                "s3:DeleteBucket", "can delete the bucket",
                "s3:DeleteObjectVersion", "can delete old versions for good",
                "s3:PutLifecycleConfiguration", "can let objects and old versions expire",
                "cloudfront:UpdateDistribution", "can point the edge at another origin",
                "route53:ChangeResourceRecordSets", "can lead the site's names elsewhere",
                "s3:PutBucketWebsite", "can redirect every visitor");
        excess.all().stream()
                .filter(action -> dangers.containsKey(action.name()))
                .sorted(Comparator.comparing(ServiceAction::name))
                .forEach(action ->
                        worst.add(new Worst(action.name(), effective.example(action), dangers.get(action.name()))));
        return worst.stream().limit(MOST_WORST).collect(Collectors.toList());
    }

    @Override
    public String name() {
        return publisher.principal().name();
    }

    @Override
    public List<BucketSite> sites() {
        return publisher.sites();
    }

    @Override
    public List<OpenStep> openSteps() {
        return open.stream()
                .map(each -> new OpenStep(
                        each.step().pipeline().place(each.step().step()),
                        each.step().step().command(),
                        each.why()))
                .toList();
    }

    @Override
    public int grantedActions() {
        return granted.size();
    }

    @Override
    public int excessActions() {
        return excess.all().size();
    }

    @Override
    public Set<String> excessServices() {
        return excess.services();
    }

    @Override
    public List<String> today() {
        List<String> lines = new ArrayList<>();
        for (Statement statement : publisher.principal().holdings().policies().stream()
                .flatMap(policy -> policy.document().statements().stream())
                .toList()) {
            String effect = statement.mayAllow() ? "" : "never ";
            String actions = (statement.actions().negated() ? "all but " : "")
                    + statement.actions().patterns().stream()
                            .map(pattern -> pattern.text())
                            .collect(Collectors.joining(", "));
            lines.add(effect + actions);
            statement.resources().ifPresent(clause -> clause.patterns()
                    .forEach(pattern -> lines.add(" on " + (clause.negated() ? "all but " : "") + pattern.text())));
            if (!statement.conditions().isEmpty()) {
                lines.add(" when "
                        + statement.conditions().stream()
                                .map(condition -> condition.spelled())
                                .collect(Collectors.joining(" and ")));
            }
        }
        if (lines.isEmpty()) {
            lines.add(unread.isEmpty() ? "nothing" : "not known: its policies were not read");
        }
        return lines;
    }

    @Override
    public List<String> proposed() {
        List<String> lines = new ArrayList<>();
        for (MinimalPolicy.Allow allow : policy.statements()) {
            lines.add(String.join(", ", allow.actions()));
            allow.resources().forEach(resource -> lines.add(" on " + resource));
        }
        return lines;
    }

    @Override
    public int proposedActions() {
        return policy.actionCount();
    }

    @Override
    public int proposedServices() {
        return policy.serviceCount();
    }

    @Override
    public JsonPart proposal() {
        return policy.json();
    }

    @Override
    public String proposalSpelled() {
        return policy.spelled();
    }

    @Override
    public Optional<Trust> proposedTrust() {
        return trust.map(each -> new Trust(each.json(), each.spelled(), each.isComplete()));
    }

    @Override
    public boolean coversNeeded() {
        return proof.coversNeeded();
    }

    @Override
    public boolean withinNeeded() {
        return proof.withinNeeded();
    }

    @Override
    public List<Needed> stillRefused() {
        return proof.stillRefused();
    }
}
