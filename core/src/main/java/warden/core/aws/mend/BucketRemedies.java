package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import warden.core.access.Truth;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.BucketSite;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.mend.Change;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;

/** What to change in the settings and the policy of one bucket. */
final class BucketRemedies {
    private static final Set<String> READING = Set.of("GET", "HEAD");
    private static final String READ = "s3:GetObject";
    private static final List<String> ERROR_PAGES = List.of("404.html", "error.html");

    private final AwsCloud cloud;
    private final Account account;
    private final Bucket bucket;
    private final BucketChanges changes;

    BucketRemedies(AwsCloud cloud, Account account, Bucket bucket) {
        this.cloud = cloud;
        this.account = account;
        this.bucket = bucket;
        this.changes = new BucketChanges(account, bucket.name());
    }

    /** Returns what to do about a finding that is about this bucket; absent for checks that its settings do not answer. */
    Optional<Proposal> of(Finding finding) {
        return Optional.ofNullable(
                switch (finding.card().id()) {
                    case "open-around-cdn",
                            "open-endpoint-around-cdn",
                            "origin-identity-legacy",
                            "origin-identity-missing",
                            "origin-identity-not-allowed",
                            "origin-identity-not-signing" -> new SealBucket(cloud, account, bucket).propose();
                    case "open-without-site" -> close();
                    case "anyone-can-write", "anyone-can-delete", "anyone-can-list", "anyone-can-change-rules" ->
                        narrow();
                    case "old-versions-readable", "policy-wider-than-needed", "origin-identity-too-strong" -> narrow();
                    case "outside-account-access" -> withoutOutsiders();
                    case "service-without-source", "origin-identity-any-distribution" -> withSource();
                    case "origin-identity-other-distribution" -> withoutOthers();
                    case "guard-off" -> Proposal.of(changes.block());
                    case "guard-contradicts-grant" -> contradiction();
                    case "ownership-lets-acls" -> Proposal.of(changes.ownObjects());
                    case "object-acl-open" -> Proposal.of(ignoreAcls());
                    case "plain-http-to-storage" -> Proposal.of(changes.demandTls());
                    case "cors-too-wide" -> Proposal.of(readingOrigins());
                    case "policy-names-bucket-not-objects" -> Proposal.of(nameObjects());
                    case "policy-names-other-bucket" -> Proposal.of(withoutOtherBuckets());
                    case "policy-dead-statement" -> withoutStatement(finding);
                    case "policy-stale-principal" -> Proposal.of(withoutStale());
                    case "hosting-unused" ->
                        Proposal.of(changes.removing(
                                Phase.TIDY,
                                "turn-hosting-off",
                                BucketSetting.WEBSITE,
                                "Turn website hosting of " + bucket.name() + " off"));
                    case "hosting-off" -> hosting();
                    case "index-invalid" -> validIndex();
                    case "error-unset" -> errorDocument();
                    case "single-page-unrouted" -> singlePage();
                    case "redirect-to-plain-http" -> Proposal.of(redirectToTls());
                    case "requester-pays" ->
                        Proposal.of(changes.setting(
                                Phase.LET_IN,
                                "let-owner-pay",
                                BucketSetting.PAYER,
                                "Let the owner of " + bucket.name() + " pay for what visitors fetch",
                                old -> Json.text(Json.object("Payer", "BucketOwner"))));
                    case "versioning-off" -> versions();
                    case "versions-kept-forever" -> Proposal.of(changes.expireOldVersions());
                    case "expires-live-content" -> Proposal.of(keepLiveContent());
                    case "storage-logging-off" -> logging();
                    case "encrypted-beyond-readers" -> decrypting(finding);
                    default -> null;
                });
    }

    private List<BucketSite> sites() {
        return cloud.sitesOf(bucket);
    }

    private boolean isMeantOpen() {
        return sites().stream().anyMatch(site -> !site.isMeantSealed());
    }

    // --- exposure

    private Proposal close() {
        return Proposal.of(changes.shutOutEveryone(), changes.block());
    }

    /** Everyone, and the edge, may read the objects of a site that is open, and do nothing else; where nobody is meant to, nothing at all. */
    private Proposal narrow() {
        List<Change> all = new ArrayList<>();
        if (!isMeantOpen()) {
            all.add(changes.shutOutEveryone());
        }
        all.add(changes.statements(
                Phase.SHUT_OUT,
                "grant-reading-only",
                "grant-reading-only",
                "Let everyone and the edge read the objects of " + bucket.name() + ", and do nothing else",
                (statement, part) -> isForVisitors(statement) && !statement.mayDeny()
                        ? reading(statement, part)
                        : Optional.of(part)));
        all.add(ignoreAcls());
        return new Proposal.Changes(all);
    }

    private static boolean isForVisitors(Statement statement) {
        List<PrincipalElement> elements = statement
                .principals()
                .filter(clause -> !clause.negated())
                .map(clause -> clause.elements())
                .orElse(List.of());
        return elements.stream().anyMatch(BucketRemedies::isVisitor);
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
                statement.principals().orElseThrow().elements().stream().allMatch(BucketRemedies::isVisitor);
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

    private Change ignoreAcls() {
        return changes.setting(
                Phase.SHUT_OUT,
                "ignore-public-acls",
                BucketSetting.PUBLIC_ACCESS,
                "Take back what public ACLs grant in " + bucket.name(),
                old -> {
                    JsonPart block = JsonReader.read(old).root().orElseThrow();
                    boolean blocks = block.flag("BlockPublicPolicy").orElse(false);
                    boolean restricts = block.flag("RestrictPublicBuckets").orElse(false);
                    return Json.text(Json.object(
                            "BlockPublicAcls",
                            true,
                            "IgnorePublicAcls",
                            true,
                            "BlockPublicPolicy",
                            blocks,
                            "RestrictPublicBuckets",
                            restricts));
                });
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
                    boolean isEdge = elements.stream().allMatch(BucketRemedies::isVisitor);
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
                .allMatch(BucketRemedies::isVisitor);
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

    private Proposal contradiction() {
        boolean statedOpen =
                sites().stream().flatMap(site -> site.meant().stream()).anyMatch(pattern -> pattern.needsOpenBucket());
        if (!statedOpen) {
            return Proposal.byHand(
                    "whether " + bucket.name() + " is meant to be open is not stated",
                    "State the site's pattern in the site file: with \"pattern: open-bucket\" mend opens it to visitors; to keep it"
                            + " closed, put a distribution with origin access control in front of it.");
        }
        return Proposal.of(changes.setting(
                Phase.SWITCH,
                "open-to-visitors",
                BucketSetting.PUBLIC_ACCESS,
                "Let the bucket policy of " + bucket.name() + " open the site to visitors, and ACLs nothing",
                old -> Json.text(Json.object(
                        "BlockPublicAcls",
                        true,
                        "IgnorePublicAcls",
                        true,
                        "BlockPublicPolicy",
                        false,
                        "RestrictPublicBuckets",
                        false))));
    }

    private Change readingOrigins() {
        return changes.setting(
                Phase.SHUT_OUT,
                "narrow-cors",
                BucketSetting.CORS,
                "Let scripts of other origins read from " + bucket.name() + " only",
                old -> {
                    String edited = old;
                    List<JsonPart> rules =
                            JsonReader.read(old).root().orElseThrow().list("CORSRules");
                    for (int i = rules.size() - 1; i >= 0; i--) {
                        JsonPart rule = rules.get(i);
                        boolean any = rule.texts("AllowedOrigins").stream().anyMatch(origin -> origin.equals("*"));
                        List<String> methods = rule.texts("AllowedMethods").stream()
                                .filter(READING::contains)
                                .toList();
                        if (any) {
                            edited = JsonEdit.set(
                                    edited,
                                    "/CORSRules/" + i + "/AllowedMethods",
                                    Json.text(methods.isEmpty() ? List.of("GET") : methods));
                        }
                    }
                    return edited;
                });
    }

    // --- the policy's text

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

    // --- hosting

    private boolean holds(String key) {
        Optional<ObjectListing> objects = bucket.objects().found();
        return objects.isPresent() && objects.get().has(key) == Truth.TRUE;
    }

    private Proposal hosting() {
        if (!holds("index.html")) {
            return Proposal.byHand(
                    "the bucket holds no index.html at its root, as far as it was listed",
                    "Turn website hosting on, and name the index document.");
        }
        return Proposal.of(changes.setting(
                Phase.LET_IN,
                "turn-hosting-on",
                BucketSetting.WEBSITE,
                "Turn website hosting of " + bucket.name() + " on",
                old -> Json.text(Json.object(
                        "IndexDocument",
                        Json.object("Suffix", "index.html"),
                        "ErrorDocument",
                        ERROR_PAGES.stream().filter(this::holds).findFirst().map(page -> Json.object("Key", page))))));
    }

    private Proposal validIndex() {
        return Proposal.of(changes.setting(
                Phase.SWITCH,
                "name-index",
                BucketSetting.WEBSITE,
                "Name the index document of " + bucket.name() + " without its folder",
                old -> {
                    String suffix = JsonReader.read(old)
                            .root()
                            .flatMap(website -> website.text("IndexDocument", "Suffix"))
                            .orElse("");
                    String last = suffix.substring(suffix.lastIndexOf('/') + 1);
                    return JsonEdit.set(old, "/IndexDocument/Suffix", Json.text(last.isEmpty() ? "index.html" : last));
                }));
    }

    private Proposal errorDocument() {
        Optional<String> page = ERROR_PAGES.stream().filter(this::holds).findFirst();
        if (page.isEmpty()) {
            return Proposal.byHand(
                    "the bucket holds no error page, as far as it was listed",
                    "Upload a page such as 404.html, and name it as the error document of " + bucket.name()
                            + ", or as the distribution's custom error response.");
        }
        return edge().map(EdgeRemedies::errorResponse)
                .orElseGet(() -> Proposal.of(changes.setting(
                        Phase.SWITCH,
                        "name-error-page",
                        BucketSetting.WEBSITE,
                        "Answer missing pages of " + bucket.name() + " with " + page.get(),
                        old -> JsonEdit.set(old, "/ErrorDocument", Json.text(Json.object("Key", page.get()))))));
    }

    private Optional<EdgeRemedies> edge() {
        return cloud.originsAt(bucket.name()).stream()
                .filter(each -> each.origin().isRest())
                .findFirst()
                .flatMap(each -> cloud.accounts().stream()
                        .filter(owner -> owner.distributions().contains(each.distribution()))
                        .findFirst()
                        .map(owner -> new EdgeRemedies(cloud, owner, each.distribution())));
    }

    private Proposal singlePage() {
        return edge().map(EdgeRemedies::singlePage)
                .orElseGet(() -> Proposal.of(changes.setting(
                        Phase.SWITCH,
                        "route-to-one-page",
                        BucketSetting.WEBSITE,
                        "Answer every address of " + bucket.name() + " with its index document",
                        old -> JsonEdit.set(
                                old,
                                "/ErrorDocument",
                                Json.text(Json.object(
                                        "Key",
                                        bucket.website()
                                                .found()
                                                .flatMap(website -> website.index())
                                                .orElse("index.html")))))));
    }

    private Change redirectToTls() {
        return changes.setting(
                Phase.SWITCH,
                "redirect-to-https",
                BucketSetting.WEBSITE,
                "Redirect visitors of " + bucket.name() + " to https:",
                old -> {
                    JsonPart website = JsonReader.read(old).root().orElseThrow();
                    String edited = website.find("RedirectAllRequestsTo").isPresent()
                            ? JsonEdit.set(old, "/RedirectAllRequestsTo/Protocol", "\"https\"")
                            : old;
                    for (int i = 0; i < website.list("RoutingRules").size(); i++) {
                        if (website.list("RoutingRules")
                                .get(i)
                                .text("Redirect", "HostName")
                                .isPresent()) {
                            edited = JsonEdit.set(edited, "/RoutingRules/" + i + "/Redirect/Protocol", "\"https\"");
                        }
                    }
                    return edited;
                });
    }

    // --- protection of content

    private Proposal versions() {
        boolean expires = bucket.lifecycle().found().stream()
                .flatMap(List::stream)
                .anyMatch(rule -> rule.enabled() && rule.oldVersions());
        return expires
                ? Proposal.of(changes.keepVersions())
                : Proposal.of(changes.expireOldVersions(), changes.keepVersions());
    }

    private Change keepLiveContent() {
        return changes.setting(
                Phase.SHUT_OUT,
                "keep-live-content",
                BucketSetting.LIFECYCLE,
                "Turn off the rules that delete or archive current objects of " + bucket.name(),
                old -> {
                    String edited = old;
                    List<JsonPart> rules =
                            JsonReader.read(old).root().orElseThrow().list("Rules");
                    for (int i = 0; i < rules.size(); i++) {
                        boolean takes = rules.get(i).find("Expiration").isPresent()
                                || rules.get(i).find("Transitions").isPresent()
                                || rules.get(i).find("Transition").isPresent();
                        if (takes) {
                            edited = JsonEdit.set(edited, "/Rules/" + i + "/Status", "\"Disabled\"");
                        }
                    }
                    return edited;
                });
    }

    /** Only an edge that signs by a control can be let in by a key; visitors and identities cannot. */
    private Proposal decrypting(Finding finding) {
        List<String> keys = finding.because().stream()
                .filter(cited -> cited.aspect().equals("key-policy"))
                .map(cited -> cited.subject())
                .distinct()
                .toList();
        List<AwsCloud.EdgeOrigin> origins = cloud.originsAt(bucket.name());
        boolean allSign = !origins.isEmpty()
                && origins.stream().allMatch(each -> each.origin().control().isPresent());
        if (keys.size() != 1 || !allSign) {
            return Proposal.byHand(
                    "only a distribution with origin access control can be let in by a key's policy, and the key has to be read",
                    finding.remedy());
        }
        List<String> edges = origins.stream()
                .map(each -> each.distribution().arn())
                .distinct()
                .sorted()
                .toList();
        return Proposal.of(KeyPolicy.letIn(account, keys.get(0), edges));
    }

    /** Logs go where others of the account go already: a bucket that is made for them is not this program's to make. */
    private Proposal logging() {
        Optional<String> target = account.buckets().stream()
                .flatMap(other -> account.survey().reading("bucket-logging", other.arn()).found().stream())
                .flatMap(answer -> answer.text("LoggingEnabled", "TargetBucket").stream())
                .filter(name -> account.ownsBucket(name) == Truth.TRUE && !name.equals(bucket.name()))
                .filter(name -> account.bucket(name)
                        .region()
                        .found()
                        .equals(bucket.region().found()))
                .sorted()
                .findFirst();
        if (target.isEmpty()) {
            return Proposal.byHand(
                    "no bucket of the account keeps access logs yet, in the same region",
                    "Make a closed bucket for logs, let the service logging.s3.amazonaws.com put objects into it for this account, and"
                            + " turn on server access logging of " + bucket.name() + ".");
        }
        BucketChanges logs = new BucketChanges(account, target.get());
        return Proposal.of(
                logs.granting(
                        Phase.LET_IN,
                        "let-logs-in",
                        "let-logs-in " + bucket.name(),
                        "Let the logs of " + bucket.name() + " into " + target.get(),
                        "Sid",
                        "LogsOf" + bucket.name().replaceAll("[^A-Za-z0-9]", ""),
                        "Effect",
                        "Allow",
                        "Principal",
                        Json.object("Service", "logging.s3.amazonaws.com"),
                        "Action",
                        "s3:PutObject",
                        "Resource",
                        account.bucket(target.get()).object(bucket.name() + "/*"),
                        "Condition",
                        Json.object(
                                "StringEquals",
                                Json.object("aws:SourceAccount", account.number()),
                                "ArnLike",
                                Json.object("aws:SourceArn", bucket.arn()))),
                changes.setting(
                        Phase.GUARD,
                        "keep-access-log",
                        BucketSetting.LOGGING,
                        "Keep the access log of " + bucket.name() + " in " + target.get(),
                        old -> Json.text(Json.object(
                                "LoggingEnabled",
                                Json.object("TargetBucket", target.get(), "TargetPrefix", bucket.name() + "/")))));
    }
}
