package warden.standin.aws;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.services.acm.model.DescribeCertificateResponse;
import software.amazon.awssdk.services.amplify.model.GetAppResponse;
import software.amazon.awssdk.services.amplify.model.GetDomainAssociationResponse;
import software.amazon.awssdk.services.cloudfront.model.DescribeFunctionResponse;
import software.amazon.awssdk.services.cloudfront.model.GetCachePolicyResponse;
import software.amazon.awssdk.services.cloudfront.model.GetCloudFrontOriginAccessIdentityResponse;
import software.amazon.awssdk.services.cloudfront.model.GetDistributionConfigResponse;
import software.amazon.awssdk.services.cloudfront.model.GetDistributionResponse;
import software.amazon.awssdk.services.cloudfront.model.GetOriginAccessControlResponse;
import software.amazon.awssdk.services.cloudfront.model.GetOriginRequestPolicyResponse;
import software.amazon.awssdk.services.cloudfront.model.GetResponseHeadersPolicyResponse;
import software.amazon.awssdk.services.cloudfront.model.ListDistributionsResponse;
import software.amazon.awssdk.services.codepipeline.model.GetPipelineResponse;
import software.amazon.awssdk.services.iam.model.GetAccessKeyLastUsedResponse;
import software.amazon.awssdk.services.iam.model.GetAccountAuthorizationDetailsResponse;
import software.amazon.awssdk.services.iam.model.GetAccountSummaryResponse;
import software.amazon.awssdk.services.iam.model.GetLoginProfileResponse;
import software.amazon.awssdk.services.iam.model.GetOpenIdConnectProviderResponse;
import software.amazon.awssdk.services.iam.model.ListAccessKeysResponse;
import software.amazon.awssdk.services.iam.model.ListMfaDevicesResponse;
import software.amazon.awssdk.services.kms.model.GetKeyPolicyResponse;
import software.amazon.awssdk.services.organizations.model.DescribePolicyResponse;
import software.amazon.awssdk.services.route53.model.GetHostedZoneResponse;
import software.amazon.awssdk.services.route53.model.ListHostedZonesResponse;
import software.amazon.awssdk.services.route53.model.ListResourceRecordSetsResponse;
import software.amazon.awssdk.services.route53domains.model.GetDomainDetailResponse;
import software.amazon.awssdk.services.s3control.model.GetPublicAccessBlockResponse;
import software.amazon.awssdk.services.s3control.model.PublicAccessBlockConfiguration;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.UrlText;
import warden.standin.XmlText;

/**
 * The protocols of the other services: REST-XML (CDN, DNS), Query-XML (identities, sessions), JSON (certificates, keys, organization,
 * domains, pipelines, managed hosting). Source: the API Reference of each service.
 */
final class AccountApi {
    /** Where the account's public access block is read and written. */
    static final String ACCOUNT_BLOCK = "/v20180820/configuration/publicAccessBlock";

    private static final Map<String, String> SPACES = Map.of(
            "cloudfront", "http://cloudfront.amazonaws.com/doc/2020-05-31/",
            "iam", "https://iam.amazonaws.com/doc/2010-05-08/",
            "route53", "https://route53.amazonaws.com/doc/2013-04-01/",
            "sts", "https://sts.amazonaws.com/doc/2011-06-15/");

    private static final Pattern CDN = Pattern.compile(
            "/2020-05-31/(distribution|origin-access-identity/cloudfront|origin-access-control|cache-policy"
                    + "|response-headers-policy|origin-request-policy|function)(?:/([^/]+))?(?:/(config|invalidation|describe)(?:/([^/]+))?)?");
    private static final Pattern DNS = Pattern.compile("/2013-04-01/hostedzone(?:/([^/]+))?(/rrset)?/?");
    private static final Pattern APPS = Pattern.compile("/apps(?:/([^/]+))?(?:/domains(?:/([^/]+))?)?");

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final Organization organization;
    private final Clock clock;
    private final String account;
    private final EdgeWrites edges;
    private final IdentityCalls identities;
    private final ZoneWrites zones;
    private final Invalidations invalidations;

    AccountApi(CloudState state, Gatekeeper gatekeeper, Organization organization, Clock clock) {
        this.state = state;
        this.organization = organization;
        this.gatekeeper = gatekeeper;
        this.clock = clock;
        this.account = state.header().account();
        this.edges = new EdgeWrites(state, gatekeeper, account);
        this.identities = new IdentityCalls(state, gatekeeper, account);
        this.zones = new ZoneWrites(state, gatekeeper, clock);
        this.invalidations = new Invalidations(state, gatekeeper, clock);
    }

    /** Returns the namespace of a service's documents; empty where they have none. */
    static String space(String service) {
        return SPACES.getOrDefault(service, "");
    }

    Invalidations invalidations() {
        return invalidations;
    }

    /** Answers a call to any service but storage; the signature's service tells which. */
    Reply answer(Call call) {
        return switch (call.service()) {
            case "cloudfront" -> cdn(call);
            case "route53" -> dns(call);
            case "iam" -> query(call, UrlText.form(call.text()));
            case "sts" -> query(call, UrlText.form(call.text()));
            case "amplify" -> apps(call);
            default -> json(call);
        };
    }

    Reply publicAccessBlock(Call call) {
        if (!call.method().equals("GET")) {
            gatekeeper.demand(call, "s3:PutAccountPublicAccessBlock", "*");
            if (call.method().equals("DELETE")) {
                state.putAbsent(
                        "account-public-access",
                        account,
                        "s3:GetAccountPublicAccessBlock",
                        "NoSuchPublicAccessBlockConfiguration");
                return Reply.empty(204);
            }
            String block = WireReading.json(PublicAccessBlockConfiguration.builder(), call.body());
            state.put(
                    "account-public-access",
                    account,
                    "s3:GetAccountPublicAccessBlock",
                    Json.text(Json.object("PublicAccessBlockConfiguration", new Json.Raw(block))));
            return Reply.empty(201);
        }
        gatekeeper.demand(call, "s3:GetAccountPublicAccessBlock", "*");
        return Reply.xml(
                200,
                WireSpelling.xmlPayload(
                                GetPublicAccessBlockResponse.builder(), document("account-public-access", account))
                        .orElse(""));
    }

    private JsonPart document(String aspect, String of) {
        return StorageApi.document(state, aspect, of);
    }

    private static Refusal unknownCall(String what) {
        return new Refusal(501, "NotImplemented", what + " is not part of the simulated account");
    }

    // ---- CDN

    private Reply cdn(Call call) {
        Matcher path = CDN.matcher(call.path());
        if (!path.matches()) {
            throw unknownCall(call.path());
        }
        String kind = path.group(1);
        String id = path.group(2);
        String part = path.group(3);
        if (kind.equals("distribution") && "invalidation".equals(part)) {
            return invalidations.answer(
                    call,
                    arn("distribution/" + id),
                    Optional.ofNullable(path.group(4)).orElse(""));
        }
        if (path.group(4) != null) {
            throw unknownCall(call.path());
        }
        Optional<Reply> written = edges.answer(call, kind, id == null ? "" : id, part == null ? "" : part);
        if (written.isPresent()) {
            return written.get();
        }
        if (!call.method().equals("GET")) {
            throw unknownCall(call.method() + " " + call.path());
        }
        if (id == null) {
            return cdnList(call, kind);
        }
        if ("config".equals(part)) {
            return distributionConfig(call, kind, id);
        }
        return switch (kind) {
            case "distribution" ->
                cdnItem(
                        call,
                        "cloudfront:GetDistribution",
                        arn("distribution/" + id),
                        "distribution",
                        arn("distribution/" + id),
                        GetDistributionResponse.builder());
            case "origin-access-identity/cloudfront" ->
                cdnItem(
                        call,
                        "cloudfront:GetCloudFrontOriginAccessIdentity",
                        arn("origin-access-identity/" + id),
                        "origin-identity",
                        "origin-access-identity/" + id,
                        GetCloudFrontOriginAccessIdentityResponse.builder());
            case "origin-access-control" ->
                cdnItem(
                        call,
                        "cloudfront:GetOriginAccessControl",
                        arn("origin-access-control/" + id),
                        "origin-control",
                        "origin-access-control/" + id,
                        GetOriginAccessControlResponse.builder());
            case "cache-policy" ->
                cdnItem(
                        call,
                        "cloudfront:GetCachePolicy",
                        arn("cache-policy/" + id),
                        "cache-policy",
                        id,
                        GetCachePolicyResponse.builder());
            case "response-headers-policy" ->
                cdnItem(
                        call,
                        "cloudfront:GetResponseHeadersPolicy",
                        arn("response-headers-policy/" + id),
                        "response-headers-policy",
                        id,
                        GetResponseHeadersPolicyResponse.builder());
            case "origin-request-policy" ->
                cdnItem(
                        call,
                        "cloudfront:GetOriginRequestPolicy",
                        arn("origin-request-policy/" + id),
                        "origin-request-policy",
                        id,
                        GetOriginRequestPolicyResponse.builder());
            default ->
                cdnItem(
                        call,
                        "cloudfront:DescribeFunction",
                        arn("function/" + id),
                        "edge-function",
                        arn("function/" + id),
                        DescribeFunctionResponse.builder());
        };
    }

    private String arn(String resource) {
        return "arn:aws:cloudfront::" + account + ":" + resource;
    }

    private Reply distributionConfig(Call call, String kind, String id) {
        if (!kind.equals("distribution")) {
            throw unknownCall("the configuration of " + kind);
        }
        gatekeeper.demand(call, "cloudfront:GetDistributionConfig", arn("distribution/" + id));
        JsonPart whole = document("distribution", arn("distribution/" + id));
        JsonPart distribution = whole.find("Distribution").orElse(whole);
        Reply reply = Reply.xml(
                200,
                WireSpelling.xmlPayload(GetDistributionConfigResponse.builder(), distribution)
                        .orElse(""));
        whole.text("ETag").ifPresent(tag -> reply.headers().put("ETag", tag));
        return reply;
    }

    private Reply cdnItem(Call call, String action, String resource, String aspect, String of, SdkPojo model) {
        gatekeeper.demand(call, action, resource);
        JsonPart document = document(aspect, of);
        Reply reply = Reply.xml(200, WireSpelling.xmlPayload(model, document).orElse(""));
        document.text("ETag").ifPresent(tag -> reply.headers().put("ETag", tag));
        return reply;
    }

    private Reply cdnList(Call call, String kind) {
        switch (kind) {
            case "distribution" -> {
                gatekeeper.demand(call, "cloudfront:ListDistributions", "*");
                return Reply.xml(
                        200,
                        WireSpelling.xmlPayload(
                                        ListDistributionsResponse.builder(),
                                        merged("distribution-list", account, "DistributionList", "Items"))
                                .orElse(""));
            }
            case "origin-access-identity/cloudfront" -> {
                gatekeeper.demand(call, "cloudfront:ListCloudFrontOriginAccessIdentities", "*");
                return Reply.xml(
                        200,
                        list(
                                "CloudFrontOriginAccessIdentityList",
                                "CloudFrontOriginAccessIdentitySummary",
                                "origin-identity"));
            }
            case "origin-access-control" -> {
                gatekeeper.demand(call, "cloudfront:ListOriginAccessControls", "*");
                return Reply.xml(200, list("OriginAccessControlList", "OriginAccessControlSummary", "origin-control"));
            }
            default -> throw unknownCall("listing " + kind);
        }
    }

    private String list(String root, String item, String aspect) {
        List<String> subjects = state.subjects(aspect);
        return XmlText.of(root, space("cloudfront"), xml -> xml.text("Marker", "")
                .text("MaxItems", 100)
                .text("IsTruncated", false)
                .text("Quantity", subjects.size())
                .element(
                        "Items",
                        items -> subjects.forEach(of -> items.element(
                                item,
                                each -> summary(
                                        each.text("Id", of.substring(of.lastIndexOf('/') + 1)),
                                        document(aspect, of))))));
    }

    /** What a list says of an identity or a control beside its identifier. */
    private static void summary(XmlText xml, JsonPart document) {
        document.text("CloudFrontOriginAccessIdentity", "S3CanonicalUserId")
                .ifPresent(id -> xml.text("S3CanonicalUserId", id));
        document.find("CloudFrontOriginAccessIdentity", "CloudFrontOriginAccessIdentityConfig")
                .or(() -> document.find("OriginAccessControl", "OriginAccessControlConfig"))
                .filter(JsonPart.JsonObject.class::isInstance)
                .ifPresent(config -> ((JsonPart.JsonObject) config).members().forEach((name, value) -> {
                    if (!name.equals("CallerReference")) {
                        xml.text(name, value.scalar().orElse(""));
                    }
                }));
    }

    /** Joins the pages of a listing into one that says that nothing follows. */
    private JsonPart merged(String aspect, String of, String... path) {
        JsonPart first = document(aspect, of);
        List<JsonPart> items = new ArrayList<>();
        for (SurveyLine page : state.pages(aspect, of)) {
            if (page.outcome() == SurveyLine.Outcome.FOUND) {
                items.addAll(page.document().list(path));
            }
        }
        Map<String, Object> members = new LinkedHashMap<>();
        JsonPart holder = path.length == 1 ? first : first.find(path[0]).orElse(first);
        if (holder instanceof JsonPart.JsonObject object) {
            object.members().forEach((name, value) -> {
                if (!name.startsWith("Next") && !name.equals(path[path.length - 1])) {
                    members.put(name, value);
                }
            });
        }
        members.put(path[path.length - 1], items);
        members.put("IsTruncated", false);
        return JsonReader.read(Json.text(path.length == 1 ? members : Json.object(path[0], members)))
                .root()
                .orElseThrow();
    }

    // ---- DNS

    private Reply dns(Call call) {
        Matcher path = DNS.matcher(call.path());
        if (path.matches() && path.group(2) != null && call.method().equals("POST")) {
            return zones.change(call, "hostedzone/" + path.group(1));
        }
        if (!path.matches() || !call.method().equals("GET")) {
            throw unknownCall(call.method() + " " + call.path());
        }
        if (path.group(1) == null) {
            gatekeeper.demand(call, "route53:ListHostedZones", "*");
            return zones(
                    "ListHostedZonesResponse",
                    WireSpelling.xml(ListHostedZonesResponse.builder(), merged("zone-list", account, "HostedZones")));
        }
        String id = "hostedzone/" + path.group(1);
        if (path.group(2) != null) {
            gatekeeper.demand(call, "route53:ListResourceRecordSets", "arn:aws:route53:::" + id);
            return zones(
                    "ListResourceRecordSetsResponse",
                    WireSpelling.xml(
                            ListResourceRecordSetsResponse.builder(),
                            merged("zone-records", id, "ResourceRecordSets")));
        }
        gatekeeper.demand(call, "route53:GetHostedZone", "arn:aws:route53:::" + id);
        return zones("GetHostedZoneResponse", WireSpelling.xml(GetHostedZoneResponse.builder(), document("zone", id)));
    }

    private static Reply zones(String root, String elements) {
        return Reply.xml(200, XmlText.of(root, space("route53"), xml -> xml.spelled(elements)));
    }

    // ---- identities and sessions

    private Reply query(Call call, Map<String, String> form) {
        String action = form.getOrDefault("Action", "");
        call.needs().operation(action);
        String result =
                switch (action) {
                    case "GetCallerIdentity" ->
                        XmlText.elements(xml -> xml.text("Arn", gatekeeper.called(call.who(), call.session()))
                                .text("UserId", userId(call))
                                .text("Account", account));
                    case "AssumeRole", "AssumeRoleWithWebIdentity" -> assume(call, form, action);
                    case "GetAccountSummary" ->
                        read(
                                call,
                                "iam:GetAccountSummary",
                                "*",
                                "account-summary",
                                account,
                                GetAccountSummaryResponse.builder());
                    case "GetAccountAuthorizationDetails" -> details(call);
                    case "ListAccessKeys" ->
                        ofUser(call, form, "iam:ListAccessKeys", "iam-user-keys", ListAccessKeysResponse.builder());
                    case "GetLoginProfile" ->
                        ofUser(call, form, "iam:GetLoginProfile", "iam-login", GetLoginProfileResponse.builder());
                    case "ListMFADevices" ->
                        ofUser(call, form, "iam:ListMFADevices", "iam-user-mfa", ListMfaDevicesResponse.builder());
                    case "GetAccessKeyLastUsed" ->
                        read(
                                call,
                                "iam:GetAccessKeyLastUsed",
                                "*",
                                "iam-key-used",
                                form.getOrDefault("AccessKeyId", ""),
                                GetAccessKeyLastUsedResponse.builder());
                    case "ListOpenIDConnectProviders" -> providers(call);
                    case "GetOpenIDConnectProvider" ->
                        read(
                                call,
                                "iam:GetOpenIDConnectProvider",
                                form.getOrDefault("OpenIDConnectProviderArn", ""),
                                "oidc-provider",
                                form.getOrDefault("OpenIDConnectProviderArn", ""),
                                GetOpenIdConnectProviderResponse.builder());
                    default -> identities.answer(call, form).orElseThrow(() -> unknownCall(action));
                };
        if (!action.matches("[A-Za-z]{1,64}")) {
            throw unknownCall("A call without an action");
        }
        String text = XmlText.of(action + "Response", space(call.service()), xml -> xml.element(
                        action + "Result", inner -> inner.spelled(result))
                .element("ResponseMetadata", inner -> inner.text("RequestId", "00000000-0000-0000-0000-000000000000")));
        return Reply.of(200, "text/xml", text);
    }

    /** The unique id of the caller, as the survey tells it; made up of the ARN for others. */
    private String userId(Call call) {
        if (call.who() instanceof Actor.AccountRoot) {
            return account;
        }
        String arn = call.who().spelled();
        boolean isRole = call.who() instanceof Actor.Role;
        Optional<String> told = state.line(isRole ? "iam-role" : "iam-user", arn)
                .filter(line -> line.outcome() == SurveyLine.Outcome.FOUND)
                .flatMap(line -> line.document().text(isRole ? "RoleId" : "UserId"));
        String id = told.orElseGet(() -> (isRole ? "AROA" : "AIDA") + Gatekeeper.keyOf(arn));
        return isRole ? id + ":" + call.session().map(Session::name).orElse("stand-in") : id;
    }

    private String read(Call call, String action, String resource, String aspect, String of, SdkPojo model) {
        gatekeeper.demand(call, action, resource);
        return WireSpelling.xml(model, document(aspect, of));
    }

    private String ofUser(Call call, Map<String, String> form, String action, String aspect, SdkPojo model) {
        String name = form.getOrDefault("UserName", "");
        String arn = state.subjects("iam-user").stream()
                .filter(of -> of.endsWith("/" + name))
                .findFirst()
                .orElse("arn:aws:iam::" + account + ":user/" + name);
        return read(call, action, arn, aspect, arn, model);
    }

    private String details(Call call) {
        gatekeeper.demand(call, "iam:GetAccountAuthorizationDetails", "*");
        Map<String, String> lists = new LinkedHashMap<>();
        lists.put("UserDetailList", "iam-user");
        lists.put("GroupDetailList", "iam-group");
        lists.put("RoleDetailList", "iam-role");
        lists.put("Policies", "iam-policy");
        Map<String, Object> all = new LinkedHashMap<>();
        lists.forEach((member, aspect) -> all.put(
                member,
                state.subjects(aspect).stream()
                        .map(of -> new Json.Raw(
                                state.line(aspect, of).orElseThrow().body()))
                        .toList()));
        all.put("IsTruncated", false);
        return WireSpelling.xml(
                GetAccountAuthorizationDetailsResponse.builder(),
                JsonReader.read(Json.text(all)).root().orElseThrow());
    }

    private String providers(Call call) {
        gatekeeper.demand(call, "iam:ListOpenIDConnectProviders", "*");
        return XmlText.elements(xml -> xml.element("OpenIDConnectProviderList", list -> state.subjects("oidc-provider")
                .forEach(arn -> list.element("member", member -> member.text("Arn", arn)))));
    }

    private String assume(Call call, Map<String, String> form, String action) {
        String arn = form.getOrDefault("RoleArn", "");
        Actor role = Actor.parse(arn)
                .filter(Actor.Role.class::isInstance)
                .orElseThrow(() -> new Refusal(400, "ValidationError", arn + " is invalid"));
        Optional<Principal> known = Arn.parse(arn)
                .flatMap(parsed -> state.account().directory().principal(parsed).found());
        boolean allowed = known.isPresent()
                && (action.equals("AssumeRoleWithWebIdentity")
                        ? isTrusted(form.getOrDefault("WebIdentityToken", ""), known.get())
                        : mayAssume(call, form, arn));
        if (!allowed) {
            throw new Refusal(403, "AccessDenied", "Not authorized to perform sts:" + action);
        }
        String name = form.getOrDefault("RoleSessionName", "");
        if (!name.matches("[\\w+=,.@-]{2,64}")) {
            throw new Refusal(400, "ValidationError", "roleSessionName has 2 to 64 letters, digits and =,.@-");
        }
        Instant until = clock.instant().plusSeconds(seconds(form)).truncatedTo(ChronoUnit.SECONDS);
        Map.Entry<String, Session> made = gatekeeper.newSession(role, name, until, limits(form));
        String roleName = arn.substring(arn.lastIndexOf('/') + 1);
        return XmlText.of("Credentials", "", xml -> xml.text("AccessKeyId", made.getKey())
                        .text("SecretAccessKey", "made-up")
                        .text("SessionToken", made.getValue().token())
                        .text("Expiration", until))
                + XmlText.of("AssumedRoleUser", "", xml -> xml.text(
                                "Arn", "arn:aws:sts::" + account + ":assumed-role/" + roleName + "/" + name)
                        .text("AssumedRoleId", "AROASTANDIN:" + name));
    }

    private boolean isTrusted(String text, Principal role) {
        IdentityToken token = IdentityToken.parse(text)
                .orElseThrow(() ->
                        new Refusal(400, "InvalidIdentityToken", "The token is not one of three parts with an issuer"));
        if (token.expires().filter(clock.instant()::isAfter).isPresent()) {
            throw new Refusal(400, "ExpiredTokenException", "Token expired");
        }
        if (!token.isOfKnownProvider(state.account().survey(), account)) {
            throw new Refusal(400, "InvalidIdentityToken", "Incorrect token audience");
        }
        return role.trust().filter(trust -> token.isTrustedBy(trust, account)).isPresent();
    }

    private boolean mayAssume(Call call, Map<String, String> form, String arn) {
        Map<String, ContextValue> more = new HashMap<>();
        more.put(
                "sts:ExternalId",
                Optional.ofNullable(form.get("ExternalId"))
                        .<ContextValue>map(ContextValue.Known::of)
                        .orElse(ContextValue.ABSENT));
        more.put("sts:RoleSessionName", ContextValue.Known.of(form.getOrDefault("RoleSessionName", "session")));
        return gatekeeper.allows(call, "sts:AssumeRole", arn, more);
    }

    /** Source: STS API Reference, "AssumeRole", DurationSeconds. */
    private static long seconds(Map<String, String> form) {
        String asked = form.getOrDefault("DurationSeconds", "3600");
        long seconds = asked.matches("[0-9]{1,6}") ? Long.parseLong(asked) : 0;
        if (seconds < 900 || seconds > 43_200) {
            throw new Refusal(400, "ValidationError", "DurationSeconds is 900 to 43200");
        }
        return seconds;
    }

    private static List<PolicyDocument> limits(Map<String, String> form) {
        if (form.keySet().stream().anyMatch(name -> name.startsWith("PolicyArns."))) {
            throw new Refusal(501, "NotImplemented", "Managed session policies are not part of the simulated account");
        }
        Optional<PolicyDocument> policy = Optional.ofNullable(form.get("Policy"))
                .map(text -> PolicyParser.parse(text, PolicyKind.IDENTITY, Pointer.ROOT));
        if (policy.filter(PolicyDocument::isPartlyOpaque).isPresent()) {
            throw new Refusal(
                    400, "MalformedPolicyDocument", "The session policy is not one that the provider accepts");
        }
        return policy.stream().toList();
    }

    // ---- JSON protocols

    private Reply json(Call call) {
        String target = call.header("x-amz-target").orElse("");
        String operation = target.substring(target.lastIndexOf('.') + 1);
        call.needs().operation(operation);
        JsonPart input = JsonReader.read(call.text().isBlank() ? "{}" : call.text())
                .root()
                .orElseThrow(() -> new Refusal(400, "SerializationException", "The body is not JSON"));
        String body =
                switch (call.service() + ":" + operation) {
                    case "acm:ListCertificates" -> certificates(call);
                    case "acm:DescribeCertificate" ->
                        item(
                                call,
                                "acm:DescribeCertificate",
                                input.text("CertificateArn").orElse(""),
                                "certificate",
                                DescribeCertificateResponse.builder());
                    case "kms:GetKeyPolicy" ->
                        item(
                                call,
                                "kms:GetKeyPolicy",
                                input.text("KeyId").orElse(""),
                                "key-policy",
                                GetKeyPolicyResponse.builder());
                    case "kms:PutKeyPolicy" -> {
                        String key = input.text("KeyId").orElse("");
                        gatekeeper.demand(call, "kms:PutKeyPolicy", key);
                        document("key-policy", key);
                        state.put(
                                "key-policy",
                                key,
                                "kms:GetKeyPolicy",
                                Json.text(Json.object(
                                        "Policy", input.text("Policy").orElse(""))));
                        yield "{}";
                    }
                    case "organizations:ListPoliciesForTarget" -> organizationPolicies(call);
                    case "organizations:ListAccounts" -> accounts(call, input);
                    case "organizations:ListParents" -> {
                        gatekeeper.demand(call, "organizations:ListParents", "*");
                        yield named("Parents", List.of(Json.object("Id", "r-root", "Type", "ROOT")));
                    }
                    case "organizations:DescribePolicy" -> {
                        gatekeeper.demand(call, "organizations:DescribePolicy", "*");
                        yield WireSpelling.json(
                                DescribePolicyResponse.builder(),
                                document(
                                        "organization-policy",
                                        input.text("PolicyId").orElse("")));
                    }
                    case "codepipeline:ListPipelines" -> pipelines(call);
                    case "codepipeline:GetPipeline" -> {
                        String arn = "arn:aws:codepipeline:" + call.region() + ":" + account + ":"
                                + input.text("name").orElse("");
                        yield item(
                                call,
                                "codepipeline:GetPipeline",
                                arn,
                                "delivery-pipeline",
                                GetPipelineResponse.builder());
                    }
                    case "route53domains:ListDomains" -> {
                        gatekeeper.demand(call, "route53domains:ListDomains", "*");
                        yield named("Domains", each("DomainName", state.subjects("domain").stream()));
                    }
                    case "route53domains:GetDomainDetail" -> {
                        gatekeeper.demand(call, "route53domains:GetDomainDetail", "*");
                        yield WireSpelling.json(
                                GetDomainDetailResponse.builder(),
                                document("domain", input.text("DomainName").orElse("")));
                    }
                    default -> throw unknownCall(target.isEmpty() ? call.service() : target);
                };
        return Reply.of(200, "application/x-amz-json-1.1", body);
    }

    private String item(Call call, String action, String of, String aspect, SdkPojo model) {
        gatekeeper.demand(call, action, of);
        return WireSpelling.json(model, document(aspect, of));
    }

    private String certificates(Call call) {
        gatekeeper.demand(call, "acm:ListCertificates", "*");
        Stream<String> all = state.subjects("certificate").stream()
                .filter(arn -> arn.startsWith("arn:aws:acm:" + call.region() + ":"));
        return named("CertificateSummaryList", each("CertificateArn", all));
    }

    private static List<Map<String, Object>> each(String member, Stream<String> values) {
        return values.map(value -> Json.object(member, value)).toList();
    }

    private static String named(String member, List<?> items) {
        return Json.text(Json.object(member, items));
    }

    private String organizationPolicies(Call call) {
        gatekeeper.demand(call, "organizations:ListPoliciesForTarget", "*");
        return named("Policies", each("Id", state.subjects("organization-policy").stream()));
    }

    private static final int MOST_ACCOUNTS_A_PAGE = 20;

    /** Source: AWS Organizations API Reference, ListAccounts: only the management account may ask, or one that it has delegated to. */
    private String accounts(Call call, JsonPart input) {
        List<String> numbers = organization.numbers();
        if (numbers.size() == 1) {
            throw new Refusal(
                    400, "AWSOrganizationsNotInUseException", "Your account is not a member of an organization.");
        }
        if (!account.equals(organization.management())) {
            throw new Refusal(400, "AccessDeniedException", "You don't have permissions to access this resource.");
        }
        gatekeeper.demand(call, "organizations:ListAccounts", "*");
        String token = input.text("NextToken").orElse("0");
        int from = token.matches("[0-9]{1,6}") ? Integer.parseInt(token) : numbers.size() + 1;
        if (from > numbers.size()) {
            throw new Refusal(400, "InvalidInputException", "You provided an invalid next token.");
        }
        int most = input.text("MaxResults")
                .filter(text -> text.matches("1?[0-9]|20"))
                .map(Integer::parseInt)
                .orElse(MOST_ACCOUNTS_A_PAGE);
        int to = Math.min(numbers.size(), from + Math.max(1, most));
        Map<String, Object> page = new LinkedHashMap<>();
        page.put(
                "Accounts",
                numbers.subList(from, to).stream()
                        .map(number -> Json.object(
                                "Id",
                                number,
                                "Arn",
                                "arn:aws:organizations::" + organization.management() + ":account/o-standin/" + number,
                                "Name",
                                "account-" + number,
                                "Email",
                                number + "@heronferry.example",
                                "Status",
                                "ACTIVE",
                                "JoinedMethod",
                                "CREATED"))
                        .toList());
        if (to < numbers.size()) {
            page.put("NextToken", Integer.toString(to));
        }
        return Json.text(page);
    }

    private String pipelines(Call call) {
        gatekeeper.demand(
                call, "codepipeline:ListPipelines", "arn:aws:codepipeline:" + call.region() + ":" + account + ":*");
        Stream<String> all = state.subjects("delivery-pipeline").stream()
                .filter(arn -> arn.startsWith("arn:aws:codepipeline:" + call.region() + ":"))
                .map(arn -> arn.substring(arn.lastIndexOf(':') + 1));
        return named("pipelines", each("name", all));
    }

    // ---- managed hosting

    private Reply apps(Call call) {
        Matcher path = APPS.matcher(call.path());
        if (!path.matches() || !call.method().equals("GET")) {
            throw unknownCall(call.path());
        }
        String prefix = "arn:aws:amplify:" + call.region() + ":" + account + ":apps/";
        if (path.group(1) == null) {
            gatekeeper.demand(call, "amplify:ListApps", prefix + "*");
            List<String> all = state.subjects("managed-app").stream()
                    .filter(arn -> arn.startsWith(prefix))
                    .map(arn -> WireSpelling.json(GetAppResponse.builder(), document("managed-app", arn)))
                    .map(json -> JsonSpelling.of(JsonReader.read(json)
                            .root()
                            .orElseThrow()
                            .find("app")
                            .orElseThrow()))
                    .toList();
            return Reply.of(
                    200,
                    "application/json",
                    named("apps", all.stream().map(Json.Raw::new).toList()));
        }
        String app = prefix + path.group(1);
        if (!call.path().contains("/domains")) {
            gatekeeper.demand(call, "amplify:GetApp", app);
            return Reply.of(
                    200, "application/json", WireSpelling.json(GetAppResponse.builder(), document("managed-app", app)));
        }
        List<String> domains = state.subjects("managed-app-domain").stream()
                .filter(of -> of.equals(app) || of.startsWith(app + "/domains/"))
                .toList();
        gatekeeper.demand(
                call,
                path.group(2) == null ? "amplify:ListDomainAssociations" : "amplify:GetDomainAssociation",
                app + "/domains/*");
        List<String> found = new ArrayList<>();
        for (String of : domains) {
            String json = WireSpelling.json(GetDomainAssociationResponse.builder(), document("managed-app-domain", of));
            JsonPart association = JsonReader.read(json).root().orElseThrow();
            Optional<String> name = association.text("domainAssociation", "domainName");
            if (path.group(2) != null && name.filter(path.group(2)::equals).isPresent()) {
                return Reply.of(200, "application/json", json);
            }
            association.find("domainAssociation").ifPresent(part -> found.add(JsonSpelling.of(part)));
        }
        if (path.group(2) != null) {
            throw new Refusal(404, "NotFoundException", "Domain association not found");
        }
        return Reply.of(
                200,
                "application/json",
                named("domainAssociations", found.stream().map(Json.Raw::new).toList()));
    }
}
