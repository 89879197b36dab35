package warden.gather.aws;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import software.amazon.awssdk.awscore.exception.AwsServiceException;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.services.acm.model.KeyAlgorithm;
import software.amazon.awssdk.services.amplify.model.DomainAssociation;
import software.amazon.awssdk.services.iam.model.GetAccountAuthorizationDetailsResponse;
import software.amazon.awssdk.services.organizations.model.Parent;
import software.amazon.awssdk.services.organizations.model.PolicyType;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.ListObjectsV2Response;
import software.amazon.awssdk.services.sts.model.GetCallerIdentityResponse;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.gather.aws.inventory.Inventory;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;

/**
 * Takes a survey of a live account by read-only calls. A refused call becomes an unread reading and the rest goes on. Each part of the work
 * may find more to ask, until nothing is left.
 */
public final class LiveSurvey implements AutoCloseable {
    private static final String CDN_REGION = "us-east-1";

    private final LiveSettings settings;
    private final Clients clients;
    private final ReadingLog log;
    private final ExecutorService threads;
    private final List<Future<?>> work = new ArrayList<>();
    private final Set<String> regions = ConcurrentHashMap.newKeySet();
    private final Set<String> originDomains = ConcurrentHashMap.newKeySet();
    private volatile boolean seesDistributions;
    private final Set<String> keysAsked = ConcurrentHashMap.newKeySet();
    private final Set<String> policiesAsked = ConcurrentHashMap.newKeySet();
    private final Set<String> domainsAsked = ConcurrentHashMap.newKeySet();
    private final Map<String, Inventory> inventories = new HashMap<>();
    private final Set<String> unused = ConcurrentHashMap.newKeySet();
    private String account = "";

    public LiveSurvey(LiveSettings settings, ReadingLog log) {
        this(settings, new Clients(settings), settings.parallel(), log);
    }

    /** Makes one that asks by clients of its own, which are closed with it. */
    LiveSurvey(LiveSettings settings, Clients clients, int threads, ReadingLog log) {
        this.settings = settings;
        this.clients = clients;
        this.log = log;
        this.threads = Executors.newFixedThreadPool(threads, LiveSurvey::daemon);
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "survey");
        thread.setDaemon(true);
        return thread;
    }

    @Override
    public void close() {
        threads.shutdownNow();
        clients.close();
    }

    /**
     * Asks who is asking, which shows whether the account can be reached at all.
     *
     * @throws LiveException with one sentence that says why not, and what to do
     */
    public SurveyHeader begin(String file, String takenAt) throws LiveException {
        try {
            GetCallerIdentityResponse me = clients.sessions().getCallerIdentity();
            if (me.account() == null || me.arn() == null) {
                throw new LiveException("the endpoint answers, but not as the provider's API does; check --endpoint");
            }
            account = me.account();
            return new SurveyHeader(
                    file,
                    "aws",
                    account,
                    takenAt,
                    me.arn(),
                    settings.host().map(host -> host.toLowerCase(Locale.ROOT)).stream()
                            .toList());
        } catch (AwsServiceException refused) {
            String code = refused.awsErrorDetails() == null
                    ? ""
                    : String.valueOf(refused.awsErrorDetails().errorCode());
            if (code.isEmpty() || code.equals("null") || refused.statusCode() >= 500) {
                throw new LiveException("the endpoint answers, but not as the provider's API does (HTTP "
                        + refused.statusCode() + "); check --endpoint");
            }
            throw new LiveException("the account refused the credentials (" + code + "); " + advice(code));
        } catch (SdkException failed) {
            throw new Unreachable(settings, System.getenv()).because(failed);
        } catch (IllegalArgumentException | IllegalStateException wrong) {
            throw new LiveException(
                    "the account cannot be asked with these settings; check --profile, --region and --endpoint");
        }
    }

    private static String advice(String code) {
        if (code.contains("Expired")) {
            return "they have expired: get new ones and run again with --resume";
        }
        if (code.contains("Skewed") || code.contains("SignatureDoesNotMatch")) {
            return "check the secret key, and that this machine's clock is right";
        }
        return "check the profile and the environment variables";
    }

    /** Returns what a survey says of an account that could not be asked: each list, and what is asked once, is not known, for that reason. */
    static List<SurveyLine> unreachable(String account, SurveyLine why) {
        List<SurveyLine> lines = new ArrayList<>();
        Map<String, String> subjects = new LinkedHashMap<>();
        for (String once :
                List.of("account-public-access", "account-summary", "distribution-list", "zone-list", "bucket-list")) {
            subjects.put(once, account);
        }
        subjects.put("iam-user", "arn:aws:iam::" + account + ":user/*");
        subjects.put("iam-role", "arn:aws:iam::" + account + ":role/*");
        subjects.put("oidc-provider", "arn:aws:iam::" + account + ":oidc-provider/*");
        subjects.put("organization-policy", account);
        subjects.put("origin-identity", "origin-access-identity/*");
        subjects.put("origin-control", "origin-access-control/*");
        subjects.put("domain", "*");
        subjects.put("certificate", "arn:aws:acm:" + CDN_REGION + ":" + account + ":certificate/*");
        subjects.put("delivery-pipeline", "arn:aws:codepipeline:" + CDN_REGION + ":" + account + ":*");
        subjects.put("managed-app", "arn:aws:amplify:" + CDN_REGION + ":" + account + ":apps/*");
        subjects.forEach(
                (aspect, of) -> lines.add(new SurveyLine("", 1, aspect, of, why.call(), Outcome.UNREAD, why.body())));
        return lines;
    }

    /** Asks everything and returns when all has been answered. */
    public void run() throws IOException {
        regions.add(CDN_REGION);
        regions.add(clients.region());
        ask("account-public-access", account, "s3:GetAccountPublicAccessBlock", () -> clients.storageControl()
                .getPublicAccessBlock(r -> r.accountId(account)));
        ask("account-summary", account, "iam:GetAccountSummary", () -> clients.identities()
                .getAccountSummary());
        submit(this::identities);
        submit(this::providers);
        submit(this::organization);
        submit(this::distributions);
        if (settings.host().isPresent()) {
            // Which buckets concern a host is known once its distributions are.
            await();
        }
        submit(this::edgeIdentities);
        submit(this::zones);
        submit(this::buckets);
        await();
        // Which regions matter is known once the buckets are.
        for (String region : regions) {
            submit(() -> certificates(region));
            submit(() -> pipelines(region));
            submit(() -> apps(region));
        }
        await();
    }

    private synchronized void submit(Runnable part) {
        work.add(threads.submit(part));
    }

    private void ask(String aspect, String of, String call, Supplier<? extends SdkPojo> question) {
        if (!log.isKnown(aspect, of)) {
            log.expect(1);
            submit(() -> log.write(Answers.to(aspect, of, call, question)));
        }
    }

    /** Waits until nothing is under way; parts may have added others meanwhile. */
    private void await() throws IOException {
        for (int i = 0; ; i++) {
            Future<?> next;
            synchronized (this) {
                if (i >= work.size()) {
                    return;
                }
                next = work.get(i);
            }
            try {
                next.get();
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                throw new IOException("stopped", stopped);
            } catch (ExecutionException failed) {
                if (failed.getCause() instanceof UncheckedIOException full) {
                    throw full.getCause();
                }
                throw new IllegalStateException(failed.getCause());
            }
        }
    }

    private static JsonPart part(SurveyLine line) {
        return JsonReader.read(line.body()).root().orElseThrow();
    }

    /** Asks for a listing page by page, writes each as it comes, and hands the found pages on. */
    private void pages(
            String aspect,
            String of,
            String call,
            Function<Optional<JsonPart>, SdkPojo> page,
            Consumer<JsonPart> found) {
        List<SurveyLine> all = new ArrayList<>();
        Optional<JsonPart> last = Optional.empty();
        boolean more = true;
        while (more) {
            Optional<JsonPart> before = last;
            SurveyLine line = Answers.to(aspect, of, call, () -> page.apply(before));
            all.add(line);
            if (line.outcome() != Outcome.FOUND) {
                break;
            }
            JsonPart document = part(line);
            found.accept(document);
            last = Optional.of(document);
            more = AwsAspects.TABLE.saysMoreFollows(line);
        }
        log.keep(all);
    }

    // ---- identities

    private void identities() {
        String marker = null;
        do {
            String from = marker;
            GetAccountAuthorizationDetailsResponse[] answer = new GetAccountAuthorizationDetailsResponse[1];
            SurveyLine line = Answers.to("iam-user", account, "iam:GetAccountAuthorizationDetails", () -> {
                answer[0] = clients.identities().getAccountAuthorizationDetails(r -> r.marker(from));
                return answer[0];
            });
            if (line.outcome() != Outcome.FOUND) {
                log.keep(List.of(new SurveyLine(
                        "",
                        1,
                        "iam-user",
                        "arn:aws:iam::" + account + ":user/*",
                        line.call(),
                        line.outcome(),
                        line.body())));
                return;
            }
            answer[0].userDetailList().forEach(user -> {
                log.found("iam-user", user.arn(), line.call(), AnswerSpelling.spell(user));
                aboutUser(user.arn(), user.userName());
            });
            answer[0]
                    .groupDetailList()
                    .forEach(group -> log.found("iam-group", group.arn(), line.call(), AnswerSpelling.spell(group)));
            answer[0]
                    .roleDetailList()
                    .forEach(role -> log.found("iam-role", role.arn(), line.call(), AnswerSpelling.spell(role)));
            answer[0]
                    .policies()
                    .forEach(
                            policy -> log.found("iam-policy", policy.arn(), line.call(), AnswerSpelling.spell(policy)));
            marker = Boolean.TRUE.equals(answer[0].isTruncated()) ? answer[0].marker() : null;
        } while (marker != null);
    }

    private void aboutUser(String arn, String name) {
        submit(() -> {
            SurveyLine line = Answers.to("iam-user-keys", arn, "iam:ListAccessKeys", () -> clients.identities()
                    .listAccessKeys(r -> r.userName(name)));
            log.keep(List.of(line));
            if (line.outcome() == Outcome.FOUND) {
                part(line).list("AccessKeyMetadata").forEach(key -> key.text("AccessKeyId")
                        .ifPresent(id -> ask("iam-key-used", id, "iam:GetAccessKeyLastUsed", () -> clients.identities()
                                .getAccessKeyLastUsed(r -> r.accessKeyId(id)))));
            }
        });
        ask("iam-login", arn, "iam:GetLoginProfile", () -> clients.identities().getLoginProfile(r -> r.userName(name)));
        ask("iam-user-mfa", arn, "iam:ListMFADevices", () -> clients.identities()
                .listMFADevices(r -> r.userName(name)));
    }

    /**
     * Lists what only a list tells of, and asks of each. A list is no reading of its own; one that is refused, or breaks off, is a line that
     * says so.
     *
     * @param of the subject that stands for all that the list would have named
     */
    private void listing(String aspect, String of, String permission, Runnable listing) {
        try {
            listing.run();
        } catch (SdkException failed) {
            log.keep(List.of(Answers.failed(aspect, of, permission, failed)));
        }
    }

    private void providers() {
        listing(
                "oidc-provider",
                "arn:aws:iam::" + account + ":oidc-provider/*",
                "iam:ListOpenIDConnectProviders",
                () -> clients.identities()
                        .listOpenIDConnectProviders()
                        .openIDConnectProviderList()
                        .forEach(provider -> ask(
                                "oidc-provider",
                                provider.arn(),
                                "iam:GetOpenIDConnectProvider",
                                () -> clients.identities()
                                        .getOpenIDConnectProvider(r -> r.openIDConnectProviderArn(provider.arn())))));
    }

    /**
     * Asks for the policies of the account, of each unit above it, and of the root, all of which limit it. Source: AWS Organizations User
     * Guide, "Service control policy evaluation".
     */
    private void organization() {
        listing("organization-policy", account, "organizations:ListPoliciesForTarget", () -> organization(account));
        listing("organization-policy", account + "/parents", "organizations:ListParents", () -> {
            Set<String> above = new LinkedHashSet<>();
            Optional<String> parent = parent(account);
            while (parent.isPresent() && above.add(parent.get())) {
                String target = parent.get();
                listing(
                        "organization-policy",
                        target,
                        "organizations:ListPoliciesForTarget",
                        () -> organization(target));
                parent = target.startsWith("r-") ? Optional.empty() : parent(target);
            }
        });
    }

    private void organization(String target) {
        clients
                .organization()
                .listPoliciesForTargetPaginator(r -> r.targetId(target).filter(PolicyType.SERVICE_CONTROL_POLICY))
                .stream()
                .flatMap(page -> page.policies().stream())
                .filter(policy -> policiesAsked.add("organization " + policy.id()))
                .forEach(policy -> ask(
                        "organization-policy", policy.id(), "organizations:DescribePolicy", () -> clients.organization()
                                .describePolicy(r -> r.policyId(policy.id()))));
    }

    /** Returns the unit or root that an account or unit is in; each has one. */
    private Optional<String> parent(String child) {
        return clients.organization().listParents(r -> r.childId(child)).parents().stream()
                .map(Parent::id)
                .findFirst();
    }

    // ---- the edge

    private void distributions() {
        pages(
                "distribution-list",
                account,
                "cloudfront:ListDistributions",
                before -> clients.cdn()
                        .listDistributions(r -> before.flatMap(page -> page.text("DistributionList", "NextMarker"))
                                .ifPresent(r::marker)),
                page -> {
                    seesDistributions = true;
                    page.list("DistributionList", "Items").forEach(item -> {
                        String arn = item.text("ARN").orElse("");
                        boolean wanted = settings.host().isEmpty()
                                || item.texts("Aliases", "Items").stream().anyMatch(this::concernsHost);
                        if (wanted) {
                            submit(() -> distribution(arn, item.text("Id").orElse("")));
                        }
                    });
                });
    }

    private boolean concernsHost(String alias) {
        return Distribution.coversHost(
                alias.toLowerCase(Locale.ROOT), settings.host().orElse("").toLowerCase(Locale.ROOT));
    }

    private void distribution(String arn, String id) {
        SurveyLine line = Answers.to("distribution", arn, "cloudfront:GetDistribution", () -> clients.cdn()
                .getDistribution(r -> r.id(id)));
        log.keep(List.of(line));
        if (line.outcome() != Outcome.FOUND) {
            return;
        }
        Optional<JsonPart> described = part(line).find("Distribution", "DistributionConfig");
        if (described.isEmpty()) {
            return;
        }
        JsonPart config = described.get();
        config.list("Origins", "Items")
                .forEach(origin -> origin.text("DomainName").ifPresent(originDomains::add));
        List<JsonPart> behaviors = new ArrayList<>(config.list("CacheBehaviors", "Items"));
        config.find("DefaultCacheBehavior").ifPresent(behaviors::add);
        for (JsonPart behavior : behaviors) {
            behavior.text("CachePolicyId")
                    .filter(policiesAsked::add)
                    .ifPresent(policy -> ask("cache-policy", policy, "cloudfront:GetCachePolicy", () -> clients.cdn()
                            .getCachePolicy(r -> r.id(policy))));
            behavior.text("ResponseHeadersPolicyId")
                    .filter(policiesAsked::add)
                    .ifPresent(policy -> ask(
                            "response-headers-policy",
                            policy,
                            "cloudfront:GetResponseHeadersPolicy",
                            () -> clients.cdn().getResponseHeadersPolicy(r -> r.id(policy))));
            behavior.text("OriginRequestPolicyId")
                    .filter(policiesAsked::add)
                    .ifPresent(policy -> ask(
                            "origin-request-policy", policy, "cloudfront:GetOriginRequestPolicy", () -> clients.cdn()
                                    .getOriginRequestPolicy(r -> r.id(policy))));
            behavior.list("FunctionAssociations", "Items").forEach(item -> item.text("FunctionARN")
                    .filter(policiesAsked::add)
                    .ifPresent(function ->
                            ask("edge-function", function, "cloudfront:DescribeFunction", () -> clients.cdn()
                                    .describeFunction(
                                            r -> r.name(function.substring(function.lastIndexOf('/') + 1))))));
        }
        config.list("Origins", "Items").forEach(origin -> originIdentities(origin));
        config.text("ViewerCertificate", "ACMCertificateArn")
                .filter(certificate -> settings.host().isPresent())
                .ifPresent(this::certificate);
    }

    private void originIdentities(JsonPart origin) {
        origin.text("OriginAccessControlId").filter(id -> !id.isEmpty()).ifPresent(this::originControl);
        origin.text("S3OriginConfig", "OriginAccessIdentity")
                .map(path -> path.substring(path.lastIndexOf('/') + 1))
                .filter(id -> !id.isEmpty())
                .ifPresent(this::originIdentity);
    }

    private void originControl(String id) {
        if (policiesAsked.add("control " + id)) {
            ask(
                    "origin-control",
                    "origin-access-control/" + id,
                    "cloudfront:GetOriginAccessControl",
                    () -> clients.cdn().getOriginAccessControl(r -> r.id(id)));
        }
    }

    private void originIdentity(String id) {
        if (policiesAsked.add("identity " + id)) {
            ask(
                    "origin-identity",
                    "origin-access-identity/" + id,
                    "cloudfront:GetCloudFrontOriginAccessIdentity",
                    () -> clients.cdn().getCloudFrontOriginAccessIdentity(r -> r.id(id)));
        }
    }

    private void edgeIdentities() {
        if (settings.host().isPresent()) {
            return;
        }
        listing(
                "origin-identity",
                "origin-access-identity/*",
                "cloudfront:ListCloudFrontOriginAccessIdentities",
                () -> eachPage(
                        from -> clients.cdn()
                                .listCloudFrontOriginAccessIdentities(r -> r.marker(from))
                                .cloudFrontOriginAccessIdentityList(),
                        page -> page.items().forEach(item -> originIdentity(item.id())),
                        page -> Boolean.TRUE.equals(page.isTruncated()) ? page.nextMarker() : null));
        listing(
                "origin-control",
                "origin-access-control/*",
                "cloudfront:ListOriginAccessControls",
                () -> eachPage(
                        from -> clients.cdn()
                                .listOriginAccessControls(r -> r.marker(from))
                                .originAccessControlList(),
                        page -> page.items().forEach(item -> originControl(item.id())),
                        page -> Boolean.TRUE.equals(page.isTruncated()) ? page.nextMarker() : null));
    }

    /** Goes through the pages of a list for which the client has no way of its own; {@code next} gives null after the last. */
    private static <P> void eachPage(
            Function<@Nullable String, P> ask, Consumer<P> use, Function<P, @Nullable String> next) {
        String marker = null;
        do {
            P page = ask.apply(marker);
            use.accept(page);
            marker = next.apply(page);
        } while (marker != null);
    }

    // ---- names

    private void zones() {
        pages(
                "zone-list",
                account,
                "route53:ListHostedZones",
                before -> clients.dns().listHostedZones(r -> before.flatMap(page -> page.text("NextMarker"))
                        .ifPresent(r::marker)),
                page -> page.list("HostedZones").forEach(zone -> {
                    String name = zone.text("Name").orElse("").replaceFirst("\\.$", "");
                    String id = "hostedzone/" + zone.text("Id").orElse("").replaceFirst("^/?hostedzone/", "");
                    boolean wanted =
                            settings.host().isEmpty() || ("." + settings.host().get()).endsWith("." + name);
                    if (wanted) {
                        zone(id, name);
                    }
                }));
        if (settings.host().isEmpty()) {
            listing("domain", "*", "route53domains:ListDomains", () -> clients.domains()
                    .listDomainsPaginator()
                    .domains()
                    .forEach(domain -> domain(domain.domainName())));
        }
    }

    private void zone(String id, String name) {
        String plain = id.substring(id.indexOf('/') + 1);
        ask("zone", id, "route53:GetHostedZone", () -> clients.dns().getHostedZone(r -> r.id(plain)));
        submit(() -> pages(
                "zone-records",
                id,
                "route53:ListResourceRecordSets",
                before -> clients.dns().listResourceRecordSets(r -> {
                    r.hostedZoneId(plain);
                    before.flatMap(page -> page.text("NextRecordName")).ifPresent(r::startRecordName);
                    before.flatMap(page -> page.text("NextRecordType")).ifPresent(r::startRecordType);
                    before.flatMap(page -> page.text("NextRecordIdentifier")).ifPresent(r::startRecordIdentifier);
                }),
                page -> {}));
        domain(name);
    }

    private void domain(String name) {
        if (domainsAsked.add(name)) {
            ask("domain", name, "route53domains:GetDomainDetail", () -> clients.domains()
                    .getDomainDetail(r -> r.domainName(name)));
        }
    }

    // ---- storage

    private void buckets() {
        SurveyLine line =
                Answers.to("bucket-list", account, "s3:ListAllMyBuckets", () -> clients.storage(clients.region())
                        .listBuckets());
        log.keep(List.of(line));
        if (line.outcome() == Outcome.FOUND) {
            part(line).list("Buckets").forEach(bucket -> bucket.text("Name").ifPresent(name -> {
                boolean wanted =
                        settings.host().isEmpty() || name.equals(settings.host().get()) || isOrigin(name);
                if (wanted) {
                    submit(() -> bucket(name));
                }
            }));
        }
    }

    /** With --host: whether one of the host's distributions fetches from the bucket; all may, when the distributions cannot be seen. */
    private boolean isOrigin(String bucket) {
        return !seesDistributions || originDomains.stream().anyMatch(domain -> domain.startsWith(bucket + ".s3"));
    }

    private void bucket(String name) {
        String arn = "arn:aws:s3:::" + name;
        String here = settings.endpoint().isPresent() ? clients.region() : region(name);
        S3Client client = clients.storage(here);
        SurveyLine location = Answers.to(
                "bucket-location", arn, "s3:GetBucketLocation", () -> client.getBucketLocation(r -> r.bucket(name)));
        location = emptyLocation(location);
        log.keep(List.of(location));
        if (location.outcome() == Outcome.FOUND) {
            regions.add(part(location)
                    .text("LocationConstraint")
                    .filter(text -> !text.isEmpty())
                    .map(text -> text.equals("EU") ? "eu-west-1" : text)
                    .orElse(CDN_REGION));
        }
        ask("bucket-policy", arn, "s3:GetBucketPolicy", () -> client.getBucketPolicy(r -> r.bucket(name)));
        ask(
                "bucket-public-access",
                arn,
                "s3:GetBucketPublicAccessBlock",
                () -> client.getPublicAccessBlock(r -> r.bucket(name)));
        ask("bucket-acl", arn, "s3:GetBucketAcl", () -> client.getBucketAcl(r -> r.bucket(name)));
        ask("bucket-website", arn, "s3:GetBucketWebsite", () -> client.getBucketWebsite(r -> r.bucket(name)));
        ask("bucket-versioning", arn, "s3:GetBucketVersioning", () -> client.getBucketVersioning(r -> r.bucket(name)));
        ask(
                "bucket-lifecycle",
                arn,
                "s3:GetLifecycleConfiguration",
                () -> client.getBucketLifecycleConfiguration(r -> r.bucket(name)));
        ask("bucket-logging", arn, "s3:GetBucketLogging", () -> client.getBucketLogging(r -> r.bucket(name)));
        ask("bucket-cors", arn, "s3:GetBucketCORS", () -> client.getBucketCors(r -> r.bucket(name)));
        ask(
                "bucket-payer",
                arn,
                "s3:GetBucketRequestPayment",
                () -> client.getBucketRequestPayment(r -> r.bucket(name)));
        submit(() -> {
            SurveyLine encryption = Answers.to(
                    "bucket-encryption",
                    arn,
                    "s3:GetEncryptionConfiguration",
                    () -> client.getBucketEncryption(r -> r.bucket(name)));
            log.keep(List.of(encryption));
            if (encryption.outcome() == Outcome.FOUND) {
                part(encryption)
                        .list("ServerSideEncryptionConfiguration", "Rules")
                        .forEach(rule -> rule.text("ApplyServerSideEncryptionByDefault", "KMSMasterKeyID")
                                .ifPresent(this::key));
            }
        });
        submit(() -> {
            SurveyLine ownership = Answers.to(
                    "bucket-ownership",
                    arn,
                    "s3:GetBucketOwnershipControls",
                    () -> client.getBucketOwnershipControls(r -> r.bucket(name)));
            log.keep(List.of(ownership));
            boolean listsCount = !ownership.body().contains("BucketOwnerEnforced");
            objects(client, name, arn, listsCount);
        });
    }

    /** The provider says nothing for its first region, which the command line prints as null. */
    private static SurveyLine emptyLocation(SurveyLine line) {
        boolean nothing = line.outcome() == Outcome.FOUND
                && part(line)
                        .text("LocationConstraint")
                        .filter(text -> !text.isEmpty() && !text.equals("null"))
                        .isEmpty();
        return nothing
                ? new SurveyLine(
                        "", 1, line.aspect(), line.of(), line.call(), Outcome.FOUND, "{\"LocationConstraint\":null}")
                : line;
    }

    private String region(String bucket) {
        try {
            String found = clients.storage(clients.region())
                    .headBucket(r -> r.bucket(bucket))
                    .bucketRegion();
            return found == null ? clients.region() : found;
        } catch (SdkException unknown) {
            return clients.region();
        }
    }

    /** Takes what buckets hold from their inventories, and lists none of these. */
    public void takeInventories(List<Inventory> all) {
        all.forEach(each -> inventories.put(each.bucket(), each));
        unused.addAll(inventories.keySet());
    }

    /** Returns the buckets of inventories that the account does not have, as far as it was asked. */
    public Set<String> unusedInventories() {
        return new TreeSet<>(unused);
    }

    private void objects(S3Client client, String name, String arn, boolean listsCount) {
        Inventory inventory = inventories.get(name);
        if (inventory != null) {
            unused.remove(name);
            log.keep(List.of(inventory.reading()));
            ask(client, name, arn, inventory.named(), listsCount);
            return;
        }
        if (settings.objects() == 0) {
            return;
        }
        List<String> keys = new ArrayList<>();
        List<SurveyLine> all = new ArrayList<>();
        String token = null;
        do {
            String from = token;
            ListObjectsV2Response[] answer = new ListObjectsV2Response[1];
            SurveyLine line = Answers.to("bucket-objects", arn, "s3:ListBucket", () -> {
                answer[0] = client.listObjectsV2(r -> r.bucket(name)
                        .continuationToken(from)
                        .maxKeys(Math.min(1_000, settings.objects() - keys.size())));
                return answer[0];
            });
            all.add(line);
            if (line.outcome() != Outcome.FOUND) {
                break;
            }
            answer[0].contents().forEach(object -> keys.add(object.key()));
            token = Boolean.TRUE.equals(answer[0].isTruncated()) && keys.size() < settings.objects()
                    ? answer[0].nextContinuationToken()
                    : null;
        } while (token != null);
        log.keep(all);
        ask(client, name, arn, keys, listsCount);
    }

    /** Asks of the first objects how they are stored, and who may reach them. */
    private void ask(S3Client client, String name, String arn, List<String> keys, boolean listsCount) {
        int asked = Math.min(settings.heads(), keys.size());
        for (String key : keys.subList(asked, keys.size())) {
            notAsked("object", arn + "/" + key, "s3:GetObject");
            if (listsCount) {
                notAsked("object-acl", arn + "/" + key, "s3:GetObjectAcl");
            }
        }
        for (String key : keys.subList(0, asked)) {
            submit(() -> head(client, name, arn, key));
            if (listsCount) {
                ask(
                        "object-acl",
                        arn + "/" + key,
                        "s3:GetObjectAcl",
                        () -> client.getObjectAcl(r -> r.bucket(name).key(key)));
            }
        }
    }

    /** Says of an object that it lies beyond the limit: no line would mean that there is nothing to tell of it. */
    private void notAsked(String aspect, String of, String call) {
        String limit = "limit of " + settings.heads() + " objects";
        log.keep(List.of(ReadingLog.unread(aspect, of, call, ReadingLog.NOT_ASKED, limit)));
    }

    private void head(S3Client client, String name, String arn, String key) {
        String of = arn + "/" + key;
        SurveyLine line = Answers.to(
                "object",
                of,
                "s3:GetObject",
                () -> client.headObject(r -> r.bucket(name).key(key)));
        log.keep(List.of(line));
        if (line.outcome() == Outcome.FOUND) {
            part(line).text("SSEKMSKeyId").ifPresent(this::key);
        }
    }

    private void key(String arn) {
        String[] parts = arn.split(":", 6);
        if (parts.length == 6 && parts[5].startsWith("key/") && keysAsked.add(arn)) {
            ask("key-policy", arn, "kms:GetKeyPolicy", () -> clients.keys(parts[3])
                    .getKeyPolicy(r -> r.keyId(arn).policyName("default")));
        }
    }

    // ---- by region

    private void certificates(String region) {
        if (settings.host().isPresent()) {
            return;
        }
        String all = "arn:aws:acm:" + region + ":" + account + ":certificate/*";
        listing("certificate", all, "acm:ListCertificates", () -> clients.certificates(region)
                .listCertificatesPaginator(r -> r.includes(filter -> filter.keyTypes(KeyAlgorithm.knownValues())))
                .certificateSummaryList()
                .forEach(summary -> certificate(summary.certificateArn())));
    }

    private void certificate(String arn) {
        String region = arn.split(":", 6)[3];
        ask("certificate", arn, "acm:DescribeCertificate", () -> clients.certificates(region)
                .describeCertificate(r -> r.certificateArn(arn)));
    }

    private void pipelines(String region) {
        String all = "arn:aws:codepipeline:" + region + ":" + account + ":*";
        listing("delivery-pipeline", all, "codepipeline:ListPipelines", () -> clients.pipelines(region)
                .listPipelinesPaginator(r -> {})
                .pipelines()
                .forEach(pipeline -> ask(
                        "delivery-pipeline",
                        "arn:aws:codepipeline:" + region + ":" + account + ":" + pipeline.name(),
                        "codepipeline:GetPipeline",
                        () -> clients.pipelines(region).getPipeline(r -> r.name(pipeline.name())))));
    }

    private void apps(String region) {
        listing(
                "managed-app",
                "arn:aws:amplify:" + region + ":" + account + ":apps/*",
                "amplify:ListApps",
                () -> clients.apps(region).listAppsPaginator(r -> {}).apps().forEach(app -> {
                    ask("managed-app", app.appArn(), "amplify:GetApp", () -> clients.apps(region)
                            .getApp(r -> r.appId(app.appId())));
                    submit(() -> listing(
                            "managed-app-domain", app.appArn() + "/domains/*", "amplify:ListDomainAssociations", () -> {
                                List<DomainAssociation> domains = clients
                                        .apps(region)
                                        .listDomainAssociationsPaginator(r -> r.appId(app.appId()))
                                        .domainAssociations()
                                        .stream()
                                        .toList();
                                domains.forEach(domain -> ask(
                                        "managed-app-domain",
                                        domains.size() == 1 ? app.appArn() : domain.domainAssociationArn(),
                                        "amplify:GetDomainAssociation",
                                        () -> clients.apps(region).getDomainAssociation(r -> r.appId(app.appId())
                                                .domainName(domain.domainName()))));
                            }));
                }));
    }
}
