package warden.core.aws.storage;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.PublicPolicy;
import warden.core.aws.survey.AwsAspects;
import warden.core.cloud.ObjectStore;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** One bucket: each of its settings as a reading, parsed once. */
public final class Bucket implements ObjectStore {
    private static final String PREFIX = "arn:aws:s3:::";

    /** How new objects are owned. Source: S3 User Guide, "Controlling ownership of objects and disabling ACLs". */
    public enum Ownership {
        /** ACLs are disabled. */
        BUCKET_OWNER_ENFORCED,
        BUCKET_OWNER_PREFERRED,
        OBJECT_WRITER
    }

    private static final String OBJECTS = "bucket-objects";

    private final Survey survey;
    private final String arn;
    private final Map<String, Reading<?>> parsed = new ConcurrentHashMap<>();
    private volatile @Nullable Truth publicPolicy;

    public Bucket(Survey survey, String arn) {
        this.survey = survey;
        this.arn = arn;
    }

    /** Returns the bucket after a change of what it holds, with the settings that were parsed. */
    public Bucket holding(Survey changed) {
        Bucket copy = new Bucket(changed, arn);
        parsed.forEach((name, reading) -> {
            if (!name.startsWith("object") && !name.equals(OBJECTS)) {
                copy.parsed.put(name, reading);
            }
        });
        copy.publicPolicy = publicPolicy;
        return copy;
    }

    /** Returns the ARN of the bucket with this name. */
    public static String arnOf(String name) {
        return PREFIX + name;
    }

    /** Returns the bucket's name in an ARN of a bucket or an object; absent when the ARN names neither. */
    public static Optional<String> nameIn(String resource) {
        if (!resource.startsWith("arn:") || !resource.contains(":s3:::")) {
            return Optional.empty();
        }
        String rest = resource.substring(resource.indexOf(":s3:::") + 6);
        int slash = rest.indexOf('/');
        String name = slash < 0 ? rest : rest.substring(0, slash);
        return name.isEmpty() ? Optional.empty() : Optional.of(name);
    }

    /** Returns the object's key in an object ARN; absent for a bucket. */
    public static Optional<String> keyIn(String resource) {
        int slash = resource.indexOf('/');
        return slash < 0 ? Optional.empty() : Optional.of(resource.substring(slash + 1));
    }

    @Override
    public String id() {
        return arn;
    }

    public String arn() {
        return arn;
    }

    public String name() {
        return arn.substring(PREFIX.length());
    }

    /** Returns the ARN of the object with this key. */
    public String object(String key) {
        return arn + "/" + key;
    }

    private <T> Reading<T> once(String aspect, String of, Function<JsonPart, T> parse) {
        return once(aspect, of, aspect, parse);
    }

    /** Returns the bucket policy. Pointers in it begin at the policy's own root. */
    public Reading<PolicyDocument> policy() {
        return once(
                "bucket-policy",
                arn,
                answer -> PolicyParser.parse(answer.find("Policy").orElse(answer), PolicyKind.BUCKET, Pointer.ROOT));
    }

    /** Returns the bucket's own public access block. */
    public Reading<PublicAccessBlock> publicAccessBlock() {
        return once("bucket-public-access", arn, PublicAccessBlock::parse);
    }

    /**
     * Returns the ownership setting. A bucket whose ownership was never set has ACLs in force.
     * A word that is not known makes it unread.
     */
    public Reading<Ownership> ownership() {
        Reading<Optional<Ownership>> reading = once("bucket-ownership", arn, answer -> ownership(answer));
        return reading.fold(
                found -> found.value().isPresent()
                        ? new Reading.Found<>(found.value().get(), found.at())
                        : new Reading.Unread<>(
                                new Need("bucket-ownership", arn, "not understood", "s3:GetBucketOwnershipControls")),
                absent -> new Reading.Absent<>(absent.code(), absent.at()),
                unread -> new Reading.Unread<>(unread.need()));
    }

    private static Optional<Ownership> ownership(JsonPart answer) {
        return answer.list("OwnershipControls", "Rules").stream()
                .flatMap(rule -> rule.text("ObjectOwnership").stream())
                .findFirst()
                .flatMap(word -> switch (word) {
                    case "BucketOwnerEnforced" -> Optional.of(Ownership.BUCKET_OWNER_ENFORCED);
                    case "BucketOwnerPreferred" -> Optional.of(Ownership.BUCKET_OWNER_PREFERRED);
                    case "ObjectWriter" -> Optional.of(Ownership.OBJECT_WRITER);
                    default -> Optional.empty();
                });
    }

    public Reading<AccessList> accessList() {
        return once("bucket-acl", arn, AccessList::parse);
    }

    public Reading<Website> website() {
        return once("bucket-website", arn, Website::parse);
    }

    /** Returns the default encryption of new objects. */
    public Reading<Encryption> encryption() {
        return once("bucket-encryption", arn, Encryption::ofBucket);
    }

    /** Returns the region; the oldest one is written as null by the provider, a few others by short names. */
    public Reading<String> region() {
        return once("bucket-location", arn, answer -> switch (answer.text("LocationConstraint")
                .orElse("")) {
            case "" -> "us-east-1";
            case "EU" -> "eu-west-1";
            default -> answer.text("LocationConstraint").orElseThrow();
        });
    }

    /** Returns whether the reader of an object is to pay for it. */
    public Reading<Boolean> requesterPays() {
        return once(
                "bucket-payer", arn, answer -> answer.text("Payer").orElse("").equals("Requester"));
    }

    /** True when the survey asked who pays, whatever the answer was. */
    public boolean isAskedWhoPays() {
        return survey.asked("bucket-payer", arn);
    }

    /** Returns whether the bucket's policy is public as the provider defines it. */
    public Truth hasPublicPolicy() {
        Truth known = publicPolicy;
        if (known == null) {
            known = policy().fold(
                            found -> PublicPolicy.isPublic(found.value()),
                            absent -> Truth.FALSE,
                            unread -> Truth.UNKNOWN);
            publicPolicy = known;
        }
        return known;
    }

    /** Returns the rules for requests from pages of other origins. */
    public Reading<List<JsonPart>> crossOriginRules() {
        return once("bucket-cors", arn, answer -> answer.list("CORSRules"));
    }

    /** Returns the names of the objects: as far as they were listed, or else as an inventory has them. */
    @SuppressWarnings("unchecked")
    public Reading<ObjectListing> objects() {
        return (Reading<ObjectListing>) parsed.computeIfAbsent(OBJECTS, key -> named());
    }

    private Reading<ObjectListing> named() {
        Reading<ObjectListing> listed = survey.listing(OBJECTS, arn).map(ObjectListing::of);
        boolean isWhole = listed.found().filter(ObjectListing::isWhole).isPresent();
        Reading<JsonPart> inventory = survey.reading("bucket-inventory", arn);
        return isWhole || !(inventory instanceof Reading.Found<JsonPart> found)
                ? listed
                : new Reading.Found<>(ObjectListing.ofInventory(found), found.at());
    }

    @Override
    public Optional<Names> listed() {
        return objects().found().map(listing -> listing);
    }

    @Override
    public List<String> asked() {
        return keysWith("object");
    }

    @Override
    public Optional<Reading<ObjectHead>> stored(String key) {
        return head(key);
    }

    @Override
    public String permissionToAsk() {
        return "s3:GetObject";
    }

    @Override
    public Optional<Need> unlistedObjects() {
        Reading<ObjectListing> objects = objects();
        return objects.missing().or(() -> objects.found()
                .filter(listing -> !listing.isComplete())
                .map(listing -> AwsAspects.cutShort(OBJECTS, arn)));
    }

    /** Returns an object's own encryption; a missing line means the bucket's default. */
    public Reading<Encryption> objectEncryption(String key) {
        String of = object(key);
        if (survey.asked("object", of)) {
            return once("object", of, Encryption::ofObject);
        }
        Optional<ObjectListing> listing = objects().found();
        Optional<String> said = listing.flatMap(found -> found.entry(key)).flatMap(ObjectListing.Entry::encryption);
        Set<String> ways = said.map(Set::of)
                .orElseGet(() -> listing.map(ObjectListing::encryptions).orElse(Set.of()));
        if (ways.isEmpty()) {
            return encryption();
        }
        // An inventory says that a key is needed, and not which.
        return PLAIN.containsAll(ways)
                ? new Reading.Found<>(Encryption.PLAIN, objects().citation().orElseThrow())
                : new Reading.Unread<>(new Need("object", of, "an inventory does not tell the key", "s3:GetObject"));
    }

    /** Source: S3 User Guide, "Amazon S3 Inventory list", encryption status. */
    private static final Set<String> PLAIN = Set.of("SSE-S3", "NOT-SSE");

    /** Returns an object's own access list; absent as a whole when the survey has no line, which means no grants. */
    public Optional<Reading<AccessList>> objectAccessList(String key) {
        String of = object(key);
        return survey.asked("object-acl", of)
                ? Optional.of(once("object-acl", of, AccessList::parse))
                : Optional.empty();
    }

    /** Returns the keys of the objects that have a line of this aspect ({@code object} or {@code object-acl}). */
    public List<String> keysWith(String aspect) {
        return survey.subjectsBelow(aspect, arn);
    }

    /** Returns whether the survey has any line about the bucket itself. */
    public boolean isSurveyed() {
        return List.of("bucket-policy", "bucket-public-access", "bucket-ownership", "bucket-acl", "bucket-location")
                .stream()
                .anyMatch(aspect -> survey.asked(aspect, arn));
    }

    /** Returns whether versions are kept: {@code Enabled}, {@code Suspended}, or empty when it was never set. */
    public Reading<String> versioning() {
        return once("bucket-versioning", arn, answer -> answer.text("Status").orElse(""));
    }

    /** Returns the rules of its lifecycle. */
    public Reading<List<LifecycleRule>> lifecycle() {
        return once("bucket-lifecycle", arn, answer -> answer.list("Rules").stream()
                .map(LifecycleRule::parse)
                .toList());
    }

    /** Returns whether it keeps an access log. */
    public Reading<Boolean> logs() {
        return once(
                "bucket-logging", arn, answer -> answer.find("LoggingEnabled").isPresent());
    }

    /** Returns what is stored with an object; absent as a whole when the survey has no line about it. */
    public Optional<Reading<ObjectHead>> head(String key) {
        String of = object(key);
        return survey.asked("object", of)
                ? Optional.of(once("object+head", of, "object", ObjectHead::parse))
                : Optional.empty();
    }

    @SuppressWarnings("unchecked")
    private <T> Reading<T> once(String remembered, String of, String aspect, Function<JsonPart, T> parse) {
        String name = of.equals(arn) ? remembered : remembered + " " + of;
        // A question that was asked before is answered without the lock that asking takes.
        Reading<?> known = parsed.get(name);
        return (Reading<T>)
                (known != null
                        ? known
                        : parsed.computeIfAbsent(
                                name, key -> survey.reading(aspect, of).map(parse)));
    }
}
