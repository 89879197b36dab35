package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.document.Json;
import warden.core.document.Placeholders;
import warden.core.survey.Place;

/**
 * Turns the resources of a template into readings. Source: CloudFormation User Guide, "Resource and property types reference": properties, defaults
 * and return values of each type; the shapes of the readings are those of the calls that read them.
 */
final class CfnResources implements CfnEvaluator.Names {
    private final String file;
    private final Description all;
    private final CfnEvaluator evaluator;
    private final CfnIdentities identities;
    private final BiFunction<String, String, Optional<String>> neighbours;
    private final CfnMacros macros;
    private final int depth;
    /** The stacks that are described by a file beside this one, by logical id. */
    private final Map<String, Optional<CfnResources>> nested = new HashMap<>();

    private static final int DEEPEST = 5;
    /** The types that are a template of their own, with the property that says where it lies. */
    private static final Map<String, String> STACKS =
            Map.of("AWS::CloudFormation::Stack", "TemplateURL", "AWS::Serverless::Application", "Location");

    private static final CfnNode NOTHING = new CfnNode(null, null, Map.of(), 1);

    /**
     * Makes ready.
     *
     * @param neighbours reads a file that lies beside a template
     * @param depth how many stacks this one stands in
     */
    CfnResources(
            String file,
            CfnNode root,
            Map<String, Object> parameters,
            Description all,
            BiFunction<String, String, Optional<String>> neighbours,
            int depth) {
        this.file = file;
        this.all = all;
        this.neighbours = neighbours;
        this.depth = depth;
        this.macros = new CfnMacros(root);
        this.evaluator = new CfnEvaluator(root, parameters, all, this);
        this.identities = new CfnIdentities(all);
    }

    Set<String> parameterNames() {
        return evaluator.parameterNames();
    }

    /** Adds the readings of every resource. */
    void describe() throws TemplateException {
        List<CfnResource> resources = new ArrayList<>();
        Optional<String> changing = macros.changingAll();
        if (changing.isPresent() || macros.includesMore()) {
            String macro = changing.orElse("that includes other files");
            all.note("the macro " + macro
                    + " changes the template before it is carried out, and is not run here; give what "
                    + "\"aws cloudformation get-template --template-stage Processed\" prints");
            mayHoldMore(new Place(file, 1, "Transform"));
        }
        for (Map.Entry<String, CfnNode> entry : evaluator.section("Resources").entrySet()) {
            CfnNode node = entry.getValue();
            if (entry.getKey().startsWith("Fn::")) {
                all.note("what " + entry.getKey() + " makes is not known, at line " + node.line());
                mayHoldMore(new Place(file, node.line(), entry.getKey()));
                continue;
            }
            CfnNode type = node.get("Type");
            if (type == null || !(type.scalar() instanceof String name)) {
                throw new TemplateException(
                        file, node.line(), 1, "the resource " + entry.getKey() + " has no Type; give it one");
            }
            Optional<Boolean> made =
                    node.get("Condition") != null && node.get("Condition").scalar() instanceof String condition
                            ? evaluator.condition(condition)
                            : Optional.of(true);
            if (made.isPresent() && !made.get()) {
                continue;
            }
            if (CfnMacros.grantsToOthers(name, node)) {
                identities.attachToAnybody();
            }
            CfnNode properties = Optional.ofNullable(node.get("Properties")).orElse(NOTHING);
            Object about = named(evaluator.value(withoutInsert(properties)), entry.getKey());
            Object value = open(made, changing, properties)
                    .map(why -> (Object) new Unknown(why, Placeholders.of(entry.getKey())))
                    .orElse(about);
            resources.add(new CfnResource(
                    entry.getKey(),
                    name,
                    new Fields(value),
                    new Fields(about),
                    new Place(file, node.line(), entry.getKey())));
        }
        resources.forEach(identities::attach);
        for (CfnResource each : resources) {
            if (STACKS.containsKey(each.type())) {
                Optional<CfnResources> inside = stack(each.id());
                if (inside.isPresent()) {
                    inside.get().describe();
                } else {
                    notRead(
                            "stack",
                            each,
                            each.named().isUnknown()
                                    ? null
                                    : each.named().at("Parameters").raw());
                }
            } else if (each.type().endsWith("::MODULE")) {
                notRead("module", each, each.named().raw());
            }
        }
        resources.forEach(this::resource);
        identities.giveToOthers();
        resources.stream()
                .filter(each -> each.type().equals("AWS::S3::Bucket"))
                .forEach(each -> all.makesBucket(Description.bucket(each.name("BucketName")), each.place()));
    }

    /** Returns why a resource's properties are not told though they stand there; absent where they are. */
    private static Optional<String> open(Optional<Boolean> made, Optional<String> changing, CfnNode properties) {
        if (made.isEmpty()) {
            return Optional.of("whether the resource is made hangs on a condition that is not told");
        }
        if (changing.isPresent()) {
            return Optional.of("what the macro " + changing.get() + " makes of it");
        }
        return properties.get(CfnMacros.INSERT) == null
                ? Optional.empty()
                : Optional.of("which properties " + CfnMacros.INSERT + " gives it");
    }

    /** What a description that is not read is given, it may set something of. */
    private void notRead(String kind, CfnResource each, @Nullable Object given) {
        all.note("the " + kind + " " + each.id() + " is described elsewhere, and not read");
        all.givesAway(given);
    }

    /** Leaves open all to which a resource of which nothing is told may add something. */
    private void mayHoldMore(Place place) {
        identities.attachToAnybody();
        for (Holdings.Kind kind : Holdings.Kind.values()) {
            all.holdings().leaveAllOpen(kind, place);
        }
        all.setsOfAnyBucket("bucket-policy");
    }

    /** Returns the properties that stand there themselves. */
    private static CfnNode withoutInsert(CfnNode properties) {
        if (properties.get(CfnMacros.INSERT) == null) {
            return properties;
        }
        Map<String, CfnNode> members = new LinkedHashMap<>(Objects.requireNonNull(properties.members()));
        members.remove(CfnMacros.INSERT);
        return new CfnNode(null, null, members, properties.line());
    }

    /** Whatever is not told of a resource, and has no other name, goes by the resource's: two of them are not the same. */
    private static Object named(Object properties, String id) {
        if (!(properties instanceof Map<?, ?> map)) {
            return properties instanceof Unknown unknown ? unknown.named(id) : properties;
        }
        Map<String, Object> named = new LinkedHashMap<>();
        map.forEach((name, value) ->
                named.put(String.valueOf(name), value instanceof Unknown unknown ? unknown.named(id) : value));
        return named;
    }

    /** Returns the stack within this one, where its template lies beside this one's. */
    private Optional<CfnResources> stack(String id) throws TemplateException {
        if (!nested.containsKey(id)) {
            nested.put(id, Optional.empty());
            CfnNode node = evaluator.section("Resources").get(id);
            CfnNode properties = node == null ? null : node.get("Properties");
            Object told = properties == null ? null : evaluator.value(withoutInsert(properties));
            Object value = told instanceof Map<?, ?> ? told : null;
            String location = STACKS.getOrDefault(evaluator.typeOf(id), "");
            Optional<String> url = new Fields(value).at(location).raw() instanceof String text && !text.contains("://")
                    ? Optional.of(text)
                    : Optional.empty();
            Optional<String> text =
                    depth > DEEPEST ? Optional.empty() : url.flatMap(name -> neighbours.apply(file, name));
            if (text.isPresent()) {
                Map<String, Object> given = new LinkedHashMap<>();
                new Fields(value).at("Parameters").members().forEach((name, each) -> given.put(name, each.raw()));
                nested.put(
                        id,
                        Optional.of(new CfnResources(
                                url.get(), CfnFile.read(url.get(), text.get()), given, all, neighbours, depth + 1)));
            }
        }
        return nested.get(id);
    }

    private Optional<Object> output(String name) {
        CfnNode output = evaluator.section("Outputs").get(name);
        return output == null || output.get("Value") == null
                ? Optional.empty()
                : Optional.ofNullable(evaluator.value(output.get("Value")));
    }

    private void resource(CfnResource each) {
        switch (each.type()) {
            case "AWS::S3::Bucket" -> bucket(each);
            case "AWS::S3::BucketPolicy" -> bucketPolicy(each);
            case "AWS::CloudFront::Distribution" ->
                reading(
                        "distribution",
                        all.distribution(Placeholders.of(each.id())),
                        each,
                        of -> CfnDistribution.document(
                                Placeholders.of(each.id()),
                                all.distribution(Placeholders.of(each.id())),
                                of.at("DistributionConfig")));
            case "AWS::CloudFront::CloudFrontOriginAccessIdentity" ->
                reading(
                        "origin-identity",
                        "origin-access-identity/" + Placeholders.of(each.id()),
                        each,
                        of -> Json.object(
                                "CloudFrontOriginAccessIdentity",
                                Json.object(
                                        "Id",
                                        Placeholders.of(each.id()),
                                        "S3CanonicalUserId",
                                        Placeholders.of(each.id() + ".S3CanonicalUserId"))));
            case "AWS::CloudFront::OriginAccessControl" ->
                reading(
                        "origin-control",
                        "origin-access-control/" + Placeholders.of(each.id()),
                        each,
                        of -> Json.object(
                                "OriginAccessControl",
                                Json.object(
                                        "Id",
                                        Placeholders.of(each.id()),
                                        "OriginAccessControlConfig",
                                        of.at("OriginAccessControlConfig").told())));
            case "AWS::CloudFront::CachePolicy" ->
                reading(
                        "cache-policy",
                        Placeholders.of(each.id()),
                        each,
                        of -> Json.object(
                                "CachePolicy",
                                Json.object(
                                        "Id",
                                        Placeholders.of(each.id()),
                                        "CachePolicyConfig",
                                        Shapes.quantities(
                                                of.at("CachePolicyConfig").told()))));
            case "AWS::CloudFront::ResponseHeadersPolicy" ->
                reading(
                        "response-headers-policy",
                        Placeholders.of(each.id()),
                        each,
                        of -> Json.object(
                                "ResponseHeadersPolicy",
                                Json.object(
                                        "Id",
                                        Placeholders.of(each.id()),
                                        "ResponseHeadersPolicyConfig",
                                        Shapes.quantities(of.at("ResponseHeadersPolicyConfig")
                                                .told()))));
            case "AWS::CloudFront::OriginRequestPolicy" ->
                reading(
                        "origin-request-policy",
                        Placeholders.of(each.id()),
                        each,
                        of -> Json.object(
                                "OriginRequestPolicy",
                                Json.object(
                                        "Id",
                                        Placeholders.of(each.id()),
                                        "OriginRequestPolicyConfig",
                                        Shapes.quantities(of.at("OriginRequestPolicyConfig")
                                                .told()))));
            case "AWS::CloudFront::Function" ->
                reading(
                        "edge-function",
                        all.function(each.name("Name")),
                        each,
                        of -> Json.object(
                                "FunctionSummary",
                                Json.object(
                                        "Name",
                                        each.name("Name"),
                                        "FunctionConfig",
                                        of.at("FunctionConfig").told())));
            case "AWS::CertificateManager::Certificate" ->
                all.unread(
                        "certificate",
                        all.certificate(Placeholders.of(each.id()), all.region()),
                        each.place(),
                        "whether the certificate is issued by then");
            case "AWS::CloudFormation::Stack", "AWS::Serverless::Application" -> {}
            case "AWS::Route53::HostedZone" -> zone(each);
            case "AWS::Route53::RecordSet" -> record(each, each.properties(), each.properties());
            case "AWS::Route53::RecordSetGroup" -> {
                if (!each.properties().isUnknown()) {
                    each.properties().items("RecordSets").forEach(of -> record(each, each.properties(), of));
                }
            }
            case "AWS::IAM::Role" -> identities.role(each);
            case "AWS::IAM::User" -> identities.user(each);
            case "AWS::IAM::Group" -> identities.group(each);
            case "AWS::IAM::ManagedPolicy" ->
                reading(
                        "iam-policy",
                        identities.policyArn(each),
                        each,
                        of -> Json.object(
                                "PolicyName",
                                CfnIdentities.policyName(each),
                                "Arn",
                                identities.policyArn(each),
                                "DefaultVersionId",
                                "v1",
                                "PolicyVersionList",
                                List.of(Json.object(
                                        "Document",
                                        of.at("PolicyDocument").policy(),
                                        "VersionId",
                                        "v1",
                                        "IsDefaultVersion",
                                        true))));
            case "AWS::IAM::Policy",
                    "AWS::IAM::RolePolicy",
                    "AWS::IAM::UserPolicy",
                    "AWS::IAM::GroupPolicy",
                    "AWS::IAM::AccessKey",
                    "AWS::IAM::UserToGroupAddition" -> {}
            case "AWS::IAM::OIDCProvider" -> {
                String host = each.properties().isUnknown()
                        ? Placeholders.of(each.id())
                        : each.properties().name("Url").orElse("").replaceFirst("^https://", "");
                reading(
                        "oidc-provider",
                        "arn:aws:iam::" + all.account() + ":oidc-provider/" + host,
                        each,
                        of -> Json.object(
                                "Url",
                                host,
                                "ClientIDList",
                                of.texts("ClientIdList"),
                                "ThumbprintList",
                                of.texts("ThumbprintList")));
            }
            case "AWS::KMS::Key" ->
                reading(
                        "key-policy",
                        all.key(Placeholders.of(each.id())),
                        each,
                        of -> Json.object("Policy", Json.text(of.at("KeyPolicy").policy())));
            case "AWS::Amplify::App" ->
                reading(
                        "managed-app",
                        amplify(each.id()),
                        each,
                        of -> Json.object(
                                "app",
                                Json.object(
                                        "appId",
                                        Placeholders.of(each.id()),
                                        "appArn",
                                        amplify(each.id()),
                                        "name",
                                        of.name("Name").orElse(each.id()),
                                        "defaultDomain",
                                        Placeholders.of(each.id()) + ".amplifyapp.com")));
            case "AWS::Amplify::Domain" -> {
                String app = each.properties().isUnknown()
                        ? amplify(each.id() + ".AppId")
                        : each.properties()
                                .name("AppId")
                                .map(all::managedApp)
                                .orElseGet(() -> amplify(each.id() + ".AppId"));
                String domain = each.name("DomainName");
                String arn = app + "/domains/" + domain;
                reading("managed-app-domain", arn, each, of -> Delivery.ofTemplate()
                        .domain(arn, domain, of));
            }
            case "AWS::CodePipeline::Pipeline" -> {
                String name = each.properties().isUnknown()
                        ? Placeholders.of(each.id())
                        : each.properties().name("Name").orElse(Placeholders.of(each.id()));
                reading("delivery-pipeline", all.deliveryPipeline(name), each, of -> Delivery.ofTemplate()
                        .pipeline(name, of));
            }
            default -> {
                if (!each.type().endsWith("::MODULE")) {
                    all.passOver(each.type());
                }
                CfnMacros.roleMadeFor(each)
                        .ifPresent(role -> all.unread(
                                "iam-role",
                                all.role("/", Placeholders.of(role)),
                                each.place(),
                                "what the role may do that the serverless transform makes"));
            }
        }
    }

    private String amplify(String id) {
        return all.managedApp(Placeholders.of(id));
    }

    private void reading(String aspect, String of, CfnResource each, Function<Fields, Object> document) {
        all.found(aspect, of, each.place(), () -> document.apply(each.told()));
    }

    // --- storage

    private void bucket(CfnResource each) {
        String arn = Description.bucket(each.name("BucketName"));
        String region = all.region();
        reading(
                "bucket-location",
                arn,
                each,
                of -> Json.object("LocationConstraint", region.equals("us-east-1") ? null : region));
        if (Placeholders.isIn(region) && !each.properties().isUnknown()) {
            // A made-up region is no place where a website answers.
            all.found("bucket-location", arn, each.place(), () -> Json.object("LocationConstraint", region));
        }
        if (each.properties().isUnknown()) {
            unreadAll(each, arn);
            return;
        }
        Fields of = each.properties();
        setting(
                "bucket-public-access",
                arn,
                each,
                "PublicAccessBlockConfiguration",
                block -> BucketDefaults.block(
                        block.flag("BlockPublicAcls").orElse(false),
                        block.flag("IgnorePublicAcls").orElse(false),
                        block.flag("BlockPublicPolicy").orElse(false),
                        block.flag("RestrictPublicBuckets").orElse(false)));
        setting(
                "bucket-ownership",
                arn,
                each,
                "OwnershipControls",
                controls -> BucketDefaults.ownership(controls.items("Rules").stream()
                        .findFirst()
                        .flatMap(rule -> rule.text("ObjectOwnership"))
                        .orElseThrow(() -> new NotTold("who owns what is uploaded"))));
        setting(
                "bucket-acl",
                arn,
                each,
                "AccessControl",
                acl -> BucketDefaults.readyMade(acl.text().orElse("Private")));
        setting("bucket-website", arn, each, "WebsiteConfiguration", CfnBucket::website);
        setting(
                "bucket-versioning",
                arn,
                each,
                "VersioningConfiguration",
                versioning -> Json.object("Status", versioning.text("Status").orElse("Suspended")));
        setting("bucket-encryption", arn, each, "BucketEncryption", CfnBucket::encryption);
        setting("bucket-lifecycle", arn, each, "LifecycleConfiguration", CfnBucket::lifecycle);
        setting(
                "bucket-logging",
                arn,
                each,
                "LoggingConfiguration",
                logging -> Json.object(
                        "LoggingEnabled",
                        Json.object(
                                "TargetBucket",
                                logging.name("DestinationBucketName")
                                        .orElse(of.name("BucketName").orElse("")),
                                "TargetPrefix",
                                logging.name("LogFilePrefix").orElse(""))));
        setting(
                "bucket-cors",
                arn,
                each,
                "CorsConfiguration",
                cors -> Json.object(
                        "CORSRules",
                        cors.items("CorsRules").stream().map(CfnBucket::cors).toList()));
    }

    private void unreadAll(CfnResource each, String arn) {
        for (String aspect : List.of(
                "bucket-public-access",
                "bucket-ownership",
                "bucket-acl",
                "bucket-website",
                "bucket-versioning",
                "bucket-encryption",
                "bucket-lifecycle",
                "bucket-logging",
                "bucket-cors",
                "bucket-policy",
                "bucket-payer")) {
            all.unread(aspect, arn, each.place(), "whether the bucket is made");
        }
    }

    private void setting(
            String aspect, String arn, CfnResource each, String property, Function<Fields, Object> document) {
        Fields there = each.properties().at(property);
        if (there.isThere()) {
            all.found(aspect, arn, each.place(), () -> document.apply(there));
        }
    }

    private void bucketPolicy(CfnResource each) {
        boolean isTold = !each.named().isUnknown()
                && !(each.named().at("Bucket").raw() instanceof Unknown open && open.isNamelessOf(each.id()));
        String bucket = each.name("Bucket");
        if (!isTold) {
            all.setsOfAnyBucket("bucket-policy");
        } else if (Placeholders.isIn(bucket)) {
            all.setsOfSomeBucket("bucket-policy", Description.bucket(bucket));
        }
        reading(
                "bucket-policy",
                Description.bucket(bucket),
                each,
                of -> Json.object("Policy", Json.text(of.at("PolicyDocument").policy())));
    }

    // --- names

    private void zone(CfnResource each) {
        String id = "hostedzone/" + Placeholders.of(each.id());
        reading(
                "zone",
                id,
                each,
                of -> Json.object(
                        "HostedZone",
                        Json.object(
                                "Id",
                                "/" + id,
                                "Name",
                                Shapes.dotted(of.name("Name").orElse("")),
                                "Config",
                                Json.object("PrivateZone", of.at("VPCs").isThere()))));
    }

    private void record(CfnResource each, Fields group, Fields of) {
        if (group.isUnknown()) {
            return;
        }
        String zone = of.name("HostedZoneId")
                .or(() -> group.name("HostedZoneId"))
                .or(() -> of.name("HostedZoneName")
                        .or(() -> group.name("HostedZoneName"))
                        .map(all::zoneNamed))
                .orElse(Placeholders.of(each.id() + ".HostedZone"));
        try {
            Fields alias = of.at("AliasTarget");
            all.records()
                    .add(
                            zone,
                            each.place(),
                            Records.record(
                                    of.name("Name").orElse(""),
                                    of.text("Type").orElse(""),
                                    of.text("TTL"),
                                    of.names("ResourceRecords"),
                                    alias.isThere()
                                            ? Optional.of(Records.alias(
                                                    alias.name("DNSName").orElse(""), alias.name("HostedZoneId")))
                                            : Optional.empty(),
                                    of.name("SetIdentifier")));
        } catch (NotTold open) {
            all.records().unknown(zone, each.place(), open.why());
        }
    }

    // --- what references come to

    @Override
    public Optional<Object> ref(String id, String type, CfnNode properties) {
        return switch (type) {
            case "AWS::S3::Bucket" -> named(properties, "BucketName");
            case "AWS::IAM::Role" -> named(properties, "RoleName");
            case "AWS::IAM::User" -> named(properties, "UserName");
            case "AWS::IAM::Group" -> named(properties, "GroupName");
            case "AWS::IAM::ManagedPolicy" ->
                Optional.of(all.policy(
                        string(named(properties, "Path")).orElse("/"),
                        string(named(properties, "ManagedPolicyName")).orElse(Placeholders.of(id))));
            case "AWS::CertificateManager::Certificate" ->
                Optional.of(all.certificate(Placeholders.of(id), all.region()));
            case "AWS::CloudFront::Function" ->
                Optional.of(all.function(string(named(properties, "Name")).orElse(Placeholders.of(id))));
            case "AWS::IAM::OIDCProvider" -> Optional.of(oidc(id, properties));
            default -> Optional.empty();
        };
    }

    private String oidc(String id, CfnNode properties) {
        return "arn:aws:iam::" + all.account() + ":oidc-provider/"
                + string(named(properties, "Url"))
                        .map(url -> url.replaceFirst("^https://", ""))
                        .orElse(Placeholders.of(id));
    }

    private Optional<Object> named(CfnNode properties, String property) {
        CfnNode node = properties.get(property);
        return node == null ? Optional.empty() : Optional.ofNullable(evaluator.value(node));
    }

    private static Optional<String> string(Optional<Object> value) {
        return value.flatMap(each -> new Fields(each).name());
    }

    @Override
    public Optional<Object> attribute(String id, String type, String name, CfnNode properties) {
        String placeholder = Placeholders.of(id);
        if (STACKS.containsKey(type) && name.startsWith("Outputs.")) {
            try {
                return stack(id).flatMap(inside -> inside.output(name.substring("Outputs.".length())));
            } catch (TemplateException broken) {
                all.note(String.valueOf(broken.getMessage()));
                return Optional.empty();
            }
        }
        String called = string(ref(id, type, properties)).orElse(placeholder);
        return switch (type + " " + name) {
            case "AWS::S3::Bucket Arn" -> Optional.of(Description.bucket(called));
            case "AWS::S3::Bucket DomainName" -> Optional.of(called + ".s3.amazonaws.com");
            case "AWS::S3::Bucket RegionalDomainName" -> Optional.of(called + ".s3." + all.region() + ".amazonaws.com");
            case "AWS::S3::Bucket DualStackDomainName" ->
                Optional.of(called + ".s3.dualstack." + all.region() + ".amazonaws.com");
            case "AWS::S3::Bucket WebsiteURL" ->
                Optional.of("http://" + called + "." + StorageEndpoint.websiteHost(all.region()));
            case "AWS::CloudFront::Distribution DomainName" -> Optional.of(placeholder + ".cloudfront.net");
            case "AWS::CloudFront::Distribution Id",
                    "AWS::CloudFront::OriginAccessControl Id",
                    "AWS::CloudFront::CloudFrontOriginAccessIdentity Id",
                    "AWS::CloudFront::CachePolicy Id",
                    "AWS::CloudFront::ResponseHeadersPolicy Id",
                    "AWS::CloudFront::OriginRequestPolicy Id",
                    "AWS::Route53::HostedZone Id",
                    "AWS::KMS::Key KeyId",
                    "AWS::Amplify::App AppId" -> Optional.of(placeholder);
            case "AWS::CloudFront::Function FunctionARN", "AWS::CloudFront::Function FunctionMetadata.FunctionARN" ->
                ref(id, type, properties);
            case "AWS::IAM::Role Arn" -> Optional.of(all.role(path(properties), called));
            case "AWS::IAM::User Arn" -> Optional.of(all.user(path(properties), called));
            case "AWS::IAM::Group Arn" -> Optional.of(all.group(path(properties), called));
            case "AWS::IAM::ManagedPolicy PolicyArn" -> ref(id, type, properties);
            case "AWS::IAM::OIDCProvider Arn" -> Optional.of(oidc(id, properties));
            case "AWS::KMS::Key Arn" -> Optional.of(all.key(placeholder));
            case "AWS::Amplify::App Arn" -> Optional.of(all.managedApp(placeholder));
            default -> Optional.empty();
        };
    }

    private String path(CfnNode properties) {
        return string(named(properties, "Path")).orElse("/");
    }
}
