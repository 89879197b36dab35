package warden.standin.aws;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import software.amazon.awssdk.services.s3.model.AccessControlPolicy;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.PublicAccessBlock;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.survey.Reading;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;

/**
 * Access lists as requests set them: by a canned name, by grants in headers, or as a document. They are kept as they are read again, and refused where
 * ownership or a public access block says so.
 *
 * <p>Source: S3 User Guide, "Access control list (ACL) overview", "Controlling ownership of objects and disabling ACLs for your bucket", "Blocking public
 * access to your Amazon S3 storage".
 */
final class AccessListWrites {
    private static final String GROUPS = "http://acs.amazonaws.com/groups/";
    private static final String ALL = GROUPS + "global/AllUsers";
    private static final String SIGNED = GROUPS + "global/AuthenticatedUsers";
    private static final Map<String, String> HEADERS = Map.of(
            "x-amz-grant-read", "READ",
            "x-amz-grant-write", "WRITE",
            "x-amz-grant-read-acp", "READ_ACP",
            "x-amz-grant-write-acp", "WRITE_ACP",
            "x-amz-grant-full-control", "FULL_CONTROL");
    private static final Pattern GRANTEE = Pattern.compile("\\s*(id|uri|emailAddress)=\"?([^\",]+)\"?\\s*");

    private final CloudState state;

    AccessListWrites(CloudState state) {
        this.state = state;
    }

    /** True where the request says who may do what. */
    static boolean isSet(Call call) {
        return call.headers().containsKey("x-amz-acl")
                || HEADERS.keySet().stream().anyMatch(call.headers()::containsKey);
    }

    /**
     * Returns the list that a request sets on an object, as get-object-acl spells it; empty where lists are not in force.
     *
     * @throws Refusal for lists that the bucket does not take
     */
    String ofObject(Call call, String bucketArn) {
        Bucket bucket = state.bucket(bucketArn);
        if (!isSet(call) && !isDocument(call) && bucket.ownership() instanceof Reading.Unread<Bucket.Ownership>) {
            // Nobody asked for a list, and whether there is one stays unknown.
            return "";
        }
        boolean givesOwnerEverything = call.header("x-amz-acl")
                .filter("bucket-owner-full-control"::equals)
                .isPresent();
        if (!areInForce(bucket)) {
            if (isSet(call) && !givesOwnerEverything || isDocument(call)) {
                throw new Refusal(400, "AccessControlListNotSupported", "The bucket does not allow ACLs");
            }
            return "";
        }
        return taken(call, bucketArn, bucket);
    }

    /** Returns the list that a request sets on a bucket, as get-bucket-acl spells it. */
    String ofBucket(Call call, String bucketArn) {
        Bucket bucket = state.bucket(bucketArn);
        if (!areInForce(bucket)) {
            throw new Refusal(400, "AccessControlListNotSupported", "The bucket does not allow ACLs");
        }
        return taken(call, bucketArn, bucket);
    }

    private String taken(Call call, String bucketArn, Bucket bucket) {
        JsonPart list = list(call, bucketArn);
        demandNotPublic(list, bucket);
        return JsonSpelling.of(list);
    }

    private static boolean isDocument(Call call) {
        return call.has("acl") && call.body().length > 0;
    }

    private static boolean areInForce(Bucket bucket) {
        Reading<Bucket.Ownership> ownership = bucket.ownership();
        if (ownership instanceof Reading.Unread<Bucket.Ownership>) {
            throw new Refusal(
                    501, "NotImplemented", "Whether the bucket takes ACLs was not read, so it is not simulated");
        }
        return ownership
                .found()
                .filter(Bucket.Ownership.BUCKET_OWNER_ENFORCED::equals)
                .isEmpty();
    }

    private void demandNotPublic(JsonPart list, Bucket bucket) {
        boolean isPublic = list.list("Grants").stream()
                .flatMap(grant -> grant.text("Grantee", "URI").stream())
                .anyMatch(uri -> uri.equals(ALL) || uri.equals(SIGNED));
        if (isPublic
                && (blocks(bucket.publicAccessBlock()) || blocks(state.account().publicAccessBlock()))) {
            throw new Refusal(
                    403, "AccessDenied", "public ACLs are blocked by the BlockPublicAcls block public access setting");
        }
    }

    private static boolean blocks(Reading<PublicAccessBlock> block) {
        if (block instanceof Reading.Unread<PublicAccessBlock>) {
            throw new Refusal(
                    501, "NotImplemented", "Whether public ACLs are blocked was not read, so it is not simulated");
        }
        return block.found().filter(PublicAccessBlock::blockPublicAcls).isPresent();
    }

    private JsonPart list(Call call, String bucketArn) {
        if (isDocument(call)) {
            return JsonReader.read(WireReading.json(AccessControlPolicy.builder(), call.body()))
                    .root()
                    .orElseThrow();
        }
        String owner = owner(bucketArn);
        List<Map<String, Object>> grants = new ArrayList<>();
        Optional<String> canned = call.header("x-amz-acl");
        boolean byHeader = HEADERS.keySet().stream().anyMatch(call.headers()::containsKey);
        if (canned.isPresent() && byHeader) {
            throw new Refusal(400, "InvalidRequest", "Specifying both Canned ACLs and Header Grants is not allowed");
        }
        if (byHeader) {
            HEADERS.entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(header -> call.header(
                            header.getKey())
                    .ifPresent(value -> grants.addAll(granted(value, header.getValue()))));
        } else {
            grants.add(grant(Json.object("ID", owner, "Type", "CanonicalUser"), "FULL_CONTROL"));
            canned(canned.orElse("private")).forEach(grants::add);
        }
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("Owner", Json.object("ID", owner));
        list.put("Grants", grants);
        return JsonReader.read(Json.text(list)).root().orElseThrow();
    }

    private static List<Map<String, Object>> canned(String name) {
        return switch (name) {
            // The owner of the bucket is the one account that is simulated, and owns what is put.
            case "private", "bucket-owner-read", "bucket-owner-full-control" -> List.of();
            case "public-read" -> List.of(group(ALL, "READ"));
            case "public-read-write" -> List.of(group(ALL, "READ"), group(ALL, "WRITE"));
            case "authenticated-read" -> List.of(group(SIGNED, "READ"));
            case "log-delivery-write" ->
                List.of(group(GROUPS + "s3/LogDelivery", "WRITE"), group(GROUPS + "s3/LogDelivery", "READ_ACP"));
            case "aws-exec-read" ->
                throw new Refusal(501, "NotImplemented", "This canned ACL is not part of the simulated account");
            default -> throw new Refusal(400, "InvalidArgument", "There is no canned ACL of this name");
        };
    }

    private static List<Map<String, Object>> granted(String header, String permission) {
        List<Map<String, Object>> grants = new ArrayList<>();
        for (String each : header.split(",")) {
            Matcher grantee = GRANTEE.matcher(each);
            if (!grantee.matches()) {
                throw new Refusal(400, "InvalidArgument", "Argument format not recognized");
            }
            grants.add(
                    switch (grantee.group(1)) {
                        case "id" -> grant(Json.object("ID", grantee.group(2), "Type", "CanonicalUser"), permission);
                        case "uri" -> group(grantee.group(2), permission);
                        default ->
                            throw new Refusal(
                                    501,
                                    "NotImplemented",
                                    "Whose an address is is not known, so grants to addresses are not part of the"
                                            + " simulated account");
                    });
        }
        return grants;
    }

    private static Map<String, Object> group(String uri, String permission) {
        return grant(Json.object("URI", uri, "Type", "Group"), permission);
    }

    private static Map<String, Object> grant(Map<String, Object> grantee, String permission) {
        return Json.object("Grantee", grantee, "Permission", permission);
    }

    private String owner(String bucketArn) {
        return state.account()
                .canonicalIds()
                .canonicalId()
                .or(() -> state.line("bucket-acl", bucketArn)
                        .filter(line -> line.outcome() == SurveyLine.Outcome.FOUND)
                        .flatMap(line -> line.document().text("Owner", "ID")))
                .orElseThrow(() -> new Refusal(
                        501,
                        "NotImplemented",
                        "The account's canonical user id was not read, so ACLs are not part of the simulated account"));
    }
}
