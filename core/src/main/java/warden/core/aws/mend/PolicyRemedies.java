package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/** What to change in the statements of a bucket policy. */
final class PolicyRemedies {
    private static final String READ = "s3:GetObject";

    private final AwsCloud cloud;
    private final Account account;
    private final Bucket bucket;
    private final BucketChanges changes;

    PolicyRemedies(AwsCloud cloud, Account account, Bucket bucket) {
        this.cloud = cloud;
        this.account = account;
        this.bucket = bucket;
        this.changes = new BucketChanges(account, bucket.name());
    }

    /** Returns what to do about a finding that the statements answer; absent for others. */
    Optional<Proposal> of(Finding finding) {
        return Optional.<Proposal>ofNullable(
                switch (finding.card().id()) {
                    case "outside-account-access" -> withoutOutsiders();
                    case "service-without-source", "origin-identity-any-distribution" -> withSource();
                    case "origin-identity-other-distribution" -> withoutOthers();
                    case "policy-names-bucket-not-objects" -> Proposal.of(nameObjects());
                    case "policy-names-other-bucket" -> Proposal.of(withoutOtherBuckets());
                    case "policy-dead-statement" -> withoutStatement(finding);
                    case "policy-stale-principal" -> Proposal.of(withoutStale());
                    default -> null;
                });
    }

    /** Lets visitors and the edge read objects, and do nothing else. */
    Change readingOnly() {
        return changes.statements(
                Phase.SHUT_OUT,
                "grant-reading-only",
                "grant-reading-only",
                "Let everyone and the edge read the objects of " + bucket.name() + ", and do nothing else",
                (statement, part) -> isForVisitors(statement) && !statement.mayDeny()
                        ? reading(statement, part)
                        : Optional.of(part));
    }

    private static boolean isForVisitors(Statement statement) {
        List<PrincipalElement> elements = statement
                .principals()
                .filter(clause -> !clause.negated())
                .map(clause -> clause.elements())
                .orElse(List.of());
        return elements.stream().anyMatch(PolicyRemedies::isVisitor);
    }

    private static boolean isVisitor(PrincipalElement element) {
        return element instanceof PrincipalElement.Everyone
                || element instanceof PrincipalElement.OriginAccessIdentity
                || (element instanceof PrincipalElement.ServiceName service
                        && service.name().equals("cloudfront.amazonaws.com"));
    }

    /** Whom else a statement names keeps what it has: then the statement stays, and is left to a person. */
    private Optional<Object> reading(Statement statement, JsonPart part) {
        boolean onlyVisitors =
                statement.principals().orElseThrow().elements().stream().allMatch(PolicyRemedies::isVisitor);
        boolean reads = statement.actions().covers("s3:getobject");
        boolean nothingElse = !statement.actions().negated()
                && statement.actions().patterns().size() == 1
                && statement.actions().patterns().get(0).text().equalsIgnoreCase(READ);
        if (!onlyVisitors || nothingElse) {
            return Optional.of(part);
        }
        if (!reads) {
            return Optional.empty();
        }
        Optional<Object> narrowed = PolicyText.setting(part, "Action", READ);
        boolean onBucket = part.find("Resource")
                .map(resource -> Json.text(resource).contains("\"" + bucket.arn() + "\""))
                .orElse(true);
        return narrowed.map(statementNow -> withResource(statementNow, onBucket));
    }

    private Object withResource(Object statement, boolean namesBucket) {
        JsonPart part = JsonReader.read(Json.text(statement)).root().orElseThrow();
        Object now = PolicyText.without(part, "NotAction");
        return namesBucket
                ? PolicyText.setting(
                                JsonReader.read(Json.text(now)).root().orElseThrow(), "Resource", bucket.object("*"))
                        .orElseThrow()
                : now;
    }

    private Proposal withoutOutsiders() {
        Set<String> trusted = Set.copyOf(cloud.file().trustedAccounts());
        Predicate<PrincipalElement> isOutside = element -> accountOf(element)
                .filter(number -> !trusted.contains(number))
                .filter(number ->
                        cloud.accounts().stream().noneMatch(own -> own.number().equals(number)))
                .isPresent();
        return Proposal.of(changes.statements(
                Phase.SHUT_OUT,
                "shut-out-other-accounts",
                "shut-out-other-accounts",
                "Take the accounts that are not trusted out of the bucket policy of " + bucket.name(),
                (statement, part) -> statement.mayDeny()
                        ? Optional.of(part)
                        : BucketChanges.leavingOut(statement, part, isOutside)));
    }

    private static Optional<String> accountOf(PrincipalElement element) {
        if (element instanceof PrincipalElement.Account named) {
            return Optional.of(named.account());
        }
        Arn arn = element instanceof PrincipalElement.UserArn user
                ? user.arn()
                : element instanceof PrincipalElement.RoleArn role
                        ? role.arn()
                        : element instanceof PrincipalElement.SessionArn session ? session.arn() : null;
        return Optional.ofNullable(arn).map(Arn::account);
    }

    /** The edge is held to the bucket's own distributions, any other service to the account. */
    private Proposal withSource() {
        List<String> edges = cloud.originsAt(bucket.name()).stream()
                .map(each -> each.distribution().arn())
                .distinct()
                .sorted()
                .toList();
        return Proposal.of(changes.statements(
                Phase.SHUT_OUT,
                "name-source",
                "name-source",
                "Name the source for which services may act on " + bucket.name(),
                (statement, part) -> {
                    List<PrincipalElement> elements = statement
                            .principals()
                            .filter(clause -> !clause.negated())
                            .map(clause -> clause.elements())
                            .orElse(List.of());
                    boolean onlyServices = !elements.isEmpty()
                            && elements.stream().allMatch(PrincipalElement.ServiceName.class::isInstance);
                    boolean named = statement.conditions().stream()
                            .map(Condition::key)
                            .map(key -> key.toLowerCase(Locale.ROOT))
                            .anyMatch(key -> key.equals("aws:sourcearn") || key.equals("aws:sourceaccount"));
                    if (statement.mayDeny() || !onlyServices || named) {
                        return Optional.of(part);
                    }
                    boolean isEdge = elements.stream().allMatch(PolicyRemedies::isVisitor);
                    return isEdge && !edges.isEmpty()
                            ? PolicyText.demanding(
                                    part, "StringEquals", "aws:SourceArn", edges.size() == 1 ? edges.get(0) : edges)
                            : PolicyText.demanding(part, "StringEquals", "aws:SourceAccount", account.number());
                }));
    }

    private Proposal withoutOthers() {
        Set<String> used = Set.copyOf(cloud.originsAt(bucket.name()).stream()
                .flatMap(each -> Stream.concat(
                        each.origin().identity().stream(),
                        Stream.of(each.distribution().arn())))
                .toList());
        return Proposal.of(changes.statements(
                Phase.SHUT_OUT,
                "shut-out-other-edges",
                "shut-out-other-edges",
                "Take the edges that are not the site's out of the bucket policy of " + bucket.name(),
                (statement, part) -> {
                    if (statement.mayDeny()) {
                        return Optional.of(part);
                    }
                    Optional<Object> left = BucketChanges.leavingOut(
                            statement,
                            part,
                            element -> element instanceof PrincipalElement.OriginAccessIdentity identity
                                    && !used.contains(identity.id()));
                    return left.filter(same -> same == part).isPresent()
                            ? withoutOtherSources(statement, part, used)
                            : left;
                }));
    }

    private static Optional<Object> withoutOtherSources(Statement statement, JsonPart part, Set<String> used) {
        boolean isEdge = statement.principals().stream()
                .flatMap(clause -> clause.elements().stream())
                .allMatch(PolicyRemedies::isVisitor);
        for (String operator : List.of("StringEquals", "ArnEquals", "ArnLike", "StringLike")) {
            for (String key : List.of("aws:SourceArn", "AWS:SourceArn", "aws:sourcearn")) {
                List<String> sources = part.find("Condition", operator, key)
                        .map(value -> value instanceof JsonPart.JsonArray
                                ? part.texts("Condition", operator, key)
                                : value.scalar().stream().toList())
                        .orElse(List.of());
                List<String> kept = sources.stream().filter(used::contains).toList();
                if (isEdge && !sources.isEmpty() && kept.size() < sources.size()) {
                    return kept.isEmpty()
                            ? Optional.empty()
                            : PolicyText.demanding(part, operator, key, kept.size() == 1 ? kept.get(0) : kept);
                }
            }
        }
        return Optional.of(part);
    }

    private Change nameObjects() {
        return changes.statements(
                Phase.SWITCH,
                "name-objects",
                "name-objects",
                "Name the objects of " + bucket.name() + " for object actions, and the bucket for its own",
                (statement, part) -> {
                    if (statement.mayDeny() || statement.actions().negated()) {
                        return Optional.of(part);
                    }
                    List<String> misplaced = statement.actions().patterns().stream()
                            .map(action -> action.text())
                            .toList();
                    boolean objects =
                            misplaced.stream().anyMatch(action -> action.contains("Object") || action.endsWith("*"));
                    boolean lists = misplaced.stream().anyMatch(action -> action.startsWith("s3:List"));
                    List<String> resources = resources(part);
                    boolean ofBucket = resources.contains(bucket.arn());
                    boolean ofObjects = resources.stream().anyMatch(name -> name.startsWith(bucket.arn() + "/"));
                    boolean isOwn = resources.stream()
                            .allMatch(name -> name.equals(bucket.arn()) || name.startsWith(bucket.arn() + "/"));
                    if (!isOwn || (objects == ofObjects && lists == ofBucket)) {
                        return Optional.of(part);
                    }
                    List<String> right = new ArrayList<>();
                    if (lists || (!objects && ofBucket)) {
                        right.add(bucket.arn());
                    }
                    if (objects) {
                        right.addAll(
                                ofObjects
                                        ? resources.stream()
                                                .filter(name -> name.startsWith(bucket.arn() + "/"))
                                                .toList()
                                        : List.of(bucket.object("*")));
                    }
                    return PolicyText.setting(part, "Resource", right.size() == 1 ? right.get(0) : right);
                });
    }

    private static List<String> resources(JsonPart statement) {
        return statement
                .find("Resource")
                .map(value -> value instanceof JsonPart.JsonArray
                        ? statement.texts("Resource")
                        : value.scalar().stream().toList())
                .orElse(List.of());
    }

    private Change withoutOtherBuckets() {
        return changes.statements(
                Phase.SHUT_OUT,
                "name-own-bucket",
                "name-own-bucket",
                "Leave the resources of other buckets out of the bucket policy of " + bucket.name(),
                (statement, part) -> {
                    List<String> resources = resources(part);
                    List<String> own = resources.stream()
                            .filter(name -> name.equals(bucket.arn()) || name.startsWith(bucket.arn() + "/"))
                            .toList();
                    if (resources.isEmpty() || own.size() == resources.size()) {
                        return Optional.of(part);
                    }
                    return own.isEmpty()
                            ? Optional.empty()
                            : PolicyText.setting(part, "Resource", own.size() == 1 ? own.get(0) : own);
                });
    }

    private Proposal withoutStatement(Finding finding) {
        // The statement is found by what it says: others may have gone before.
        Optional<String> meaning = bucket.policy().found().stream()
                .flatMap(policy -> policy.statements().stream())
                .filter(statement -> statement.at().toString().equals(finding.place()))
                .map(Statement::meaning)
                .findFirst();
        return meaning.<Proposal>map(same -> Proposal.of(changes.statements(
                        Phase.TIDY,
                        "drop-dead-statement",
                        "drop-dead-statement " + same,
                        "Take a statement that does nothing out of the bucket policy of " + bucket.name(),
                        new java.util.function.BiFunction<>() {
                            private boolean gone;

                            @Override
                            public Optional<Object> apply(Statement statement, JsonPart part) {
                                boolean goes = statement.meaning().equals(same) && !gone;
                                gone |= goes;
                                return goes ? Optional.empty() : Optional.of(part);
                            }
                        })))
                .orElseGet(() -> Proposal.byHand("the statement is not in the bucket policy", finding.remedy()));
    }

    private Change withoutStale() {
        return changes.statements(
                Phase.TIDY,
                "drop-deleted-principals",
                "drop-deleted-principals",
                "Take deleted principals out of the bucket policy of " + bucket.name(),
                (statement, part) ->
                        BucketChanges.leavingOut(statement, part, PrincipalElement.Stale.class::isInstance));
    }
}
