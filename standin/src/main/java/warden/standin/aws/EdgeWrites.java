package warden.standin.aws;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.services.cloudfront.model.CloudFrontOriginAccessIdentityConfig;
import software.amazon.awssdk.services.cloudfront.model.DistributionConfig;
import software.amazon.awssdk.services.cloudfront.model.GetCloudFrontOriginAccessIdentityResponse;
import software.amazon.awssdk.services.cloudfront.model.GetDistributionResponse;
import software.amazon.awssdk.services.cloudfront.model.GetOriginAccessControlResponse;
import software.amazon.awssdk.services.cloudfront.model.OriginAccessControlConfig;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;

/**
 * Changes distributions, and what they sign with. Each change gives another version tag; a call with an old one is refused. Source: CloudFront
 * API Reference, UpdateDistribution, CreateOriginAccessControl, CreateCloudFrontOriginAccessIdentity and their deletions.
 */
final class EdgeWrites {
    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final String account;
    private final AtomicInteger made = new AtomicInteger();

    EdgeWrites(CloudState state, Gatekeeper gatekeeper, String account) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.account = account;
    }

    /**
     * Answers a call that changes something of the CDN; absent for other calls.
     *
     * @param kind as the path spells it
     * @param id empty for what is to be made
     */
    Optional<Reply> answer(Call call, String kind, String id, String part) {
        String key = call.method() + " " + kind + (part.isEmpty() ? "" : "/" + part);
        return Optional.ofNullable(
                switch (key) {
                    case "PUT distribution/config" -> update(call, arn("distribution/" + id));
                    case "POST origin-access-control" -> id.isEmpty() ? control(call) : null;
                    case "POST origin-access-identity/cloudfront" -> id.isEmpty() ? identity(call) : null;
                    case "DELETE origin-access-control" ->
                        delete(
                                call,
                                "cloudfront:DeleteOriginAccessControl",
                                arn("origin-access-control/" + id),
                                "origin-control",
                                "origin-access-control/" + id,
                                "OriginAccessControl");
                    case "DELETE origin-access-identity/cloudfront" ->
                        delete(
                                call,
                                "cloudfront:DeleteCloudFrontOriginAccessIdentity",
                                arn("origin-access-identity/" + id),
                                "origin-identity",
                                "origin-access-identity/" + id,
                                "CloudFrontOriginAccessIdentity");
                    default -> null;
                });
    }

    private String arn(String resource) {
        return "arn:aws:cloudfront::" + account + ":" + resource;
    }

    private void demandTag(Call call, JsonPart document) {
        Optional<String> asked = call.header("if-match");
        if (asked.isEmpty()) {
            throw new Refusal(
                    400, "InvalidIfMatchVersion", "The If-Match version is missing or not valid for the resource.");
        }
        if (!document.text("ETag").equals(asked)) {
            throw new Refusal(
                    412,
                    "PreconditionFailed",
                    "The request failed because it didn't meet the preconditions in one or more request-header fields");
        }
    }

    private String nextTag(String old) {
        return "E" + String.format(Locale.ROOT, "%08X", (old + made.incrementAndGet()).hashCode());
    }

    private Reply update(Call call, String arn) {
        gatekeeper.demand(call, "cloudfront:UpdateDistribution", arn);
        JsonPart document = StorageApi.document(state, "distribution", arn);
        demandTag(call, document);
        String config = WireReading.json(DistributionConfig.builder(), call.body());
        String tag = nextTag(document.text("ETag").orElse(""));
        String body = JsonEdit.set(
                JsonEdit.set(JsonSpelling.of(document), "/Distribution/DistributionConfig", config),
                "/ETag",
                Json.text(tag));
        state.put("distribution", arn, "cloudfront:GetDistribution", body);
        tellCertificates(arn, JsonReader.read(config).root().orElseThrow());
        return tagged(200, GetDistributionResponse.builder(), "distribution", arn);
    }

    /** Certificates tell what uses them. Source: ACM API Reference, CertificateDetail, InUseBy. */
    private void tellCertificates(String arn, JsonPart config) {
        Optional<String> shown = config.text("ViewerCertificate", "ACMCertificateArn");
        for (String certificate : List.copyOf(state.subjects("certificate"))) {
            Optional<JsonPart> told = state.line("certificate", certificate)
                    .filter(line -> line.outcome() == SurveyLine.Outcome.FOUND)
                    .map(SurveyLine::document);
            List<String> users = new ArrayList<>(
                    told.map(body -> body.texts("Certificate", "InUseBy")).orElse(List.of()));
            boolean isChanged = shown.filter(certificate::equals).isPresent()
                    ? !users.contains(arn) && users.add(arn)
                    : users.remove(arn);
            if (told.isPresent() && isChanged) {
                state.put(
                        "certificate",
                        certificate,
                        "acm:DescribeCertificate",
                        JsonEdit.set(JsonSpelling.of(told.get()), "/Certificate/InUseBy", Json.text(users)));
            }
        }
    }

    private Reply tagged(int status, SdkPojo model, String aspect, String of) {
        JsonPart document = StorageApi.document(state, aspect, of);
        Reply reply = Reply.xml(status, WireSpelling.xmlPayload(model, document).orElse(""));
        document.text("ETag").ifPresent(tag -> reply.headers().put("ETag", tag));
        return reply;
    }

    private String newId(char kind) {
        return "E" + kind + String.format(Locale.ROOT, "STANDIN%05d", made.incrementAndGet());
    }

    private Reply control(Call call) {
        gatekeeper.demand(call, "cloudfront:CreateOriginAccessControl", arn("origin-access-control/*"));
        String config = WireReading.json(OriginAccessControlConfig.builder(), call.body());
        String name = WireReading.members(OriginAccessControlConfig.builder(), call.body())
                .getOrDefault("Name", "")
                .toString();
        boolean taken = state.subjects("origin-control").stream()
                .map(of -> StorageApi.document(state, "origin-control", of))
                .anyMatch(other -> other.text("OriginAccessControl", "OriginAccessControlConfig", "Name")
                        .filter(name::equals)
                        .isPresent());
        if (taken) {
            throw new Refusal(
                    409,
                    "OriginAccessControlAlreadyExists",
                    "An origin access control with the same name exists already");
        }
        String id = newId('C');
        state.put(
                "origin-control",
                "origin-access-control/" + id,
                "cloudfront:GetOriginAccessControl",
                Json.text(Json.object(
                        "ETag",
                        nextTag(id),
                        "OriginAccessControl",
                        Json.object("Id", id, "OriginAccessControlConfig", new Json.Raw(config)))));
        return tagged(201, GetOriginAccessControlResponse.builder(), "origin-control", "origin-access-control/" + id);
    }

    /** Asked again with the same reference and comment, the service gives what it made before. */
    private Reply identity(Call call) {
        gatekeeper.demand(call, "cloudfront:CreateCloudFrontOriginAccessIdentity", arn("origin-access-identity/*"));
        String config = WireReading.json(CloudFrontOriginAccessIdentityConfig.builder(), call.body());
        Optional<String> same = state.subjects("origin-identity").stream()
                .filter(of -> StorageApi.document(state, "origin-identity", of)
                        .find("CloudFrontOriginAccessIdentity", "CloudFrontOriginAccessIdentityConfig")
                        .map(JsonSpelling::of)
                        .filter(config::equals)
                        .isPresent())
                .findFirst();
        String of = same.orElseGet(() -> "origin-access-identity/" + newId('I'));
        if (same.isEmpty()) {
            String id = of.substring(of.indexOf('/') + 1);
            byte[] digest = Digests.of("SHA-256", id.getBytes(java.nio.charset.StandardCharsets.UTF_8));
            state.put(
                    "origin-identity",
                    of,
                    "cloudfront:GetCloudFrontOriginAccessIdentity",
                    Json.text(Json.object(
                            "ETag",
                            nextTag(id),
                            "CloudFrontOriginAccessIdentity",
                            Json.object(
                                    "Id",
                                    id,
                                    "S3CanonicalUserId",
                                    java.util.HexFormat.of().formatHex(digest),
                                    "CloudFrontOriginAccessIdentityConfig",
                                    new Json.Raw(config)))));
        }
        return tagged(201, GetCloudFrontOriginAccessIdentityResponse.builder(), "origin-identity", of);
    }

    private Reply delete(Call call, String action, String resource, String aspect, String of, String kind) {
        gatekeeper.demand(call, action, resource);
        JsonPart document = StorageApi.document(state, aspect, of);
        demandTag(call, document);
        if (state.account().edges().usedOriginSigners().contains(of)) {
            throw new Refusal(409, kind + "InUse", "It is still being used by a distribution");
        }
        state.forget(aspect, of);
        return Reply.empty(204);
    }
}
