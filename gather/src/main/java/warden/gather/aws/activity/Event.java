package warden.gather.aws.activity;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import warden.core.aws.catalogue.ActionCatalogue;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.document.DisplayText;
import warden.core.trim.Activity.Use;

/** One event of the log, as far as it matters here. */
final class Event {
    /** Events of the storage service that are named after operations whose action has another name. */
    private static final Map<String, String> STORAGE = Map.ofEntries(
            Map.entry("ListObjects", "s3:ListBucket"),
            Map.entry("ListObjectsV2", "s3:ListBucket"),
            Map.entry("HeadBucket", "s3:ListBucket"),
            Map.entry("ListObjectVersions", "s3:ListBucketVersions"),
            Map.entry("HeadObject", "s3:GetObject"),
            Map.entry("CopyObject", "s3:PutObject"),
            Map.entry("DeleteObjects", "s3:DeleteObject"),
            Map.entry("CreateMultipartUpload", "s3:PutObject"),
            Map.entry("CompleteMultipartUpload", "s3:PutObject"),
            Map.entry("UploadPart", "s3:PutObject"),
            Map.entry("UploadPartCopy", "s3:PutObject"),
            Map.entry("ListBuckets", "s3:ListAllMyBuckets"),
            Map.entry("GetBucketEncryption", "s3:GetEncryptionConfiguration"),
            Map.entry("GetBucketLifecycle", "s3:GetLifecycleConfiguration"),
            Map.entry("PutBucketLifecycle", "s3:PutLifecycleConfiguration"),
            Map.entry("PutBucketEncryption", "s3:PutEncryptionConfiguration"),
            Map.entry("PutPublicAccessBlock", "s3:PutBucketPublicAccessBlock"),
            Map.entry("GetPublicAccessBlock", "s3:GetBucketPublicAccessBlock"),
            Map.entry("ListParts", "s3:ListMultipartUploadParts"),
            Map.entry("ListMultipartUploads", "s3:ListBucketMultipartUploads"));

    /** By source and name: the action. Few pairs only, and always the same. */
    private static final Map<String, Map<String, Optional<Named>>> ACTIONS = new ConcurrentHashMap<>();

    /** A session of a role; the role's own name stands for one role, whatever its path is. */
    static final Pattern SESSION = Pattern.compile("^arn:aws:sts::([0-9]{12}):assumed-role/([^/]+)/.*$");

    static final String ROLE_OF_SESSION = "arn:aws:iam::$1:role/$2";
    /** Whoever can write into the log may have written a name that is none, to have it proposed. */
    static final Pattern BUCKET = Pattern.compile("^[A-Za-z0-9._-]{1,255}$");

    static final Pattern DISTRIBUTION = Pattern.compile("^[A-Z0-9]{1,64}$");
    static final Pattern ACCOUNT = Pattern.compile("^[0-9]{12}$");

    private static final String BUCKET_ARN = "arn:aws:s3:::";
    private static final Pattern DISTRIBUTION_ARN =
            Pattern.compile("arn:aws:cloudfront::([0-9]{12}):distribution/([A-Z0-9]{1,64})");
    static final int LONGEST_NAME = 2_048;
    private static final int MOST_SOURCES = 1_000;
    private static final int MOST_NAMES = 1_000;

    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9_-]{1,128}");

    private String source = "";
    private String name = "";
    private String time = "";
    private String error = "";
    private String principal = "";
    private String issuer = "";
    private String account = "";
    private String firstResource = "";
    private String bucket = "";
    private String distribution = "";

    /** Reads the event whose opening brace the parser stands at. */
    void read(JsonParser parser) {
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String member = parser.currentName();
            member(member, parser.nextToken(), parser);
        }
    }

    /**
     * Returns what a row of the query's result stands for: events that differ in nothing that matters here.
     *
     * @param action as the row has it: the service, a colon, and the event's name
     * @param resource the pattern; empty where the events told none
     */
    static Event ofRow(String credential, String action, String resource, String lastUsed) {
        Event event = new Event();
        int colon = action.indexOf(':');
        String service = action.substring(0, Math.max(0, colon));
        event.source = service.isEmpty() || service.equals("?") ? service : service + ".";
        event.name = action.substring(colon + 1);
        event.principal = credential;
        event.time = lastUsed;
        if (resource.startsWith(BUCKET_ARN)) {
            int end = resource.indexOf('/');
            event.bucket = resource.substring(BUCKET_ARN.length(), end < 0 ? resource.length() : end);
        } else if (resource.startsWith("arn:aws:cloudfront:")) {
            Matcher distribution = DISTRIBUTION_ARN.matcher(resource);
            if (distribution.matches()) {
                event.account = distribution.group(1);
                event.distribution = distribution.group(2);
            }
        }
        event.firstResource = resource;
        return event;
    }

    /** Takes one member; true when it is one that events have. */
    boolean member(String member, JsonToken value, JsonParser parser) {
        switch (member) {
            case "eventSource" -> source = text(value, parser);
            case "eventName" -> name = text(value, parser);
            case "eventTime" -> time = text(value, parser);
            case "errorCode" -> error = text(value, parser);
            case "recipientAccountId" -> account = text(value, parser);
            case "userIdentity" -> identity(value, parser);
            case "requestParameters" -> parameters(value, parser);
            case "resources" -> resources(value, parser);
            default -> {
                skip(value, parser);
                return false;
            }
        }
        return true;
    }

    private static String text(JsonToken value, JsonParser parser) {
        if (value == JsonToken.VALUE_STRING) {
            return parser.getString();
        }
        skip(value, parser);
        return "";
    }

    private static void skip(JsonToken value, JsonParser parser) {
        if (value == JsonToken.START_OBJECT || value == JsonToken.START_ARRAY) {
            parser.skipChildren();
        }
    }

    private void identity(JsonToken value, JsonParser parser) {
        if (value != JsonToken.START_OBJECT) {
            skip(value, parser);
            return;
        }
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String member = parser.currentName();
            JsonToken inner = parser.nextToken();
            if (member.equals("arn")) {
                principal = text(inner, parser);
            } else if (member.equals("sessionContext") && inner == JsonToken.START_OBJECT) {
                session(parser);
            } else {
                skip(inner, parser);
            }
        }
    }

    private void session(JsonParser parser) {
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String member = parser.currentName();
            JsonToken inner = parser.nextToken();
            if (member.equals("sessionIssuer") && inner == JsonToken.START_OBJECT) {
                while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
                    String own = parser.currentName();
                    JsonToken last = parser.nextToken();
                    if (own.equals("arn")) {
                        issuer = text(last, parser);
                    } else {
                        skip(last, parser);
                    }
                }
            } else {
                skip(inner, parser);
            }
        }
    }

    private void parameters(JsonToken value, JsonParser parser) {
        if (value != JsonToken.START_OBJECT) {
            skip(value, parser);
            return;
        }
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            String member = parser.currentName();
            JsonToken inner = parser.nextToken();
            if (inner == JsonToken.VALUE_STRING) {
                switch (member) {
                    case "bucketName" -> bucket = parser.getString();
                    case "distributionId" -> distribution = parser.getString();
                    default -> {
                        // The others say nothing about which resource it is.
                    }
                }
            } else {
                skip(inner, parser);
            }
        }
    }

    private void resources(JsonToken value, JsonParser parser) {
        if (value != JsonToken.START_ARRAY) {
            skip(value, parser);
            return;
        }
        while (parser.nextToken() == JsonToken.START_OBJECT) {
            while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
                String member = parser.currentName();
                JsonToken inner = parser.nextToken();
                boolean arn = member.equals("ARN") || member.equals("arn");
                String text = arn ? text(inner, parser) : "";
                if (!arn) {
                    skip(inner, parser);
                } else if (firstResource.isEmpty()) {
                    firstResource = text;
                }
            }
        }
    }

    boolean isRefused() {
        return !error.isEmpty();
    }

    String time() {
        return time;
    }

    /** Returns the user or role; a session counts as its role. Absent for services and unsigned requests. */
    Optional<String> principal() {
        String arn = issuer.isEmpty() ? principal : issuer;
        return arn.startsWith("arn:") && arn.length() <= LONGEST_NAME
                ? Optional.of(
                        arn.startsWith("arn:aws:sts:") ? SESSION.matcher(arn).replaceFirst(ROLE_OF_SESSION) : arn)
                : Optional.empty();
    }

    /** Returns the action and resource; absent for events that no permission stands behind, or that do not tell on what. */
    Optional<Use> use() {
        Optional<Named> action = named();
        Optional<String> on = action.flatMap(this::on);
        return on.map(each -> new Use(action.orElseThrow().action(), each));
    }

    /**
     * What stands behind an event's name.
     *
     * @param resourceType as the catalogue has it; empty for actions that it does not know
     */
    private record Named(String action, String resourceType) {
        static Named of(String action) {
            return new Named(
                    action,
                    ActionCatalogue.shipped()
                            .named(action)
                            .map(ServiceAction::resourceType)
                            .orElse(""));
        }
    }

    private Optional<Named> named() {
        Map<String, Optional<Named>> ofSource = ACTIONS.getOrDefault(source, Map.of());
        Optional<Named> known = ofSource.get(name);
        if (known == null) {
            known = action().map(Named::of);
            if (ACTIONS.size() < MOST_SOURCES && ofSource.size() < MOST_NAMES) {
                ACTIONS.computeIfAbsent(source, key -> new ConcurrentHashMap<>())
                        .put(name, known);
            }
        }
        return known;
    }

    /** Returns why nothing is taken from the event, as the end of a sentence; absent where something is, or nothing could be. */
    Optional<String> obstacle() {
        boolean called = !source.isEmpty() && !name.isEmpty();
        if (called && !isPlain()) {
            return Optional.of("with the name of an action as none is called");
        }
        Optional<Named> action = named();
        if (action.isEmpty() && called && !isIdentityCall()) {
            return Optional.of("with the name " + DisplayText.name(service() + ":" + name)
                    + ", which is no action of that service");
        }
        return action.filter(known -> on(known).isEmpty())
                .map(known -> "without the resource on which " + known.action() + " was used");
    }

    private boolean isPlain() {
        return PLAIN.matcher(service()).matches() && PLAIN.matcher(name).matches();
    }

    private String service() {
        int dot = source.indexOf('.');
        return dot <= 0 ? "" : source.substring(0, dot);
    }

    /** Needs no permission. */
    private boolean isIdentityCall() {
        return service().equals("sts") && name.equals("GetCallerIdentity");
    }

    /** Whoever can write into the folder of logs could otherwise have a star proposed, or an action that does not exist. */
    private Optional<String> action() {
        if (name.isEmpty() || !isPlain() || isIdentityCall()) {
            return Optional.empty();
        }
        String service = service();
        // Some services put the version of their interface behind the name.
        String plain = name.replaceFirst("(\\d{4}_\\d{2}_\\d{2}|\\d{8})$", "");
        String known = service.equals("s3") ? STORAGE.getOrDefault(plain, "s3:" + plain) : service + ":" + plain;
        Optional<String> catalogued = ActionCatalogue.shipped().named(known).map(ServiceAction::name);
        return ActionCatalogue.shipped().services().contains(service) ? catalogued : Optional.of(known);
    }

    /** Returns the resource; a name that holds a wildcard is no name. A star only for actions that know no resource. */
    private Optional<String> on(Named named) {
        String action = named.action();
        if (named.resourceType().equals("*")) {
            return Optional.of("*");
        }
        if (action.startsWith("s3:")) {
            return isBucket(bucket)
                    ? Optional.of(ofBucket(named.resourceType().equals("object") ? "/*" : ""))
                    : Optional.empty();
        }
        if (action.startsWith("cloudfront:")
                && DISTRIBUTION.matcher(distribution).matches()
                && ACCOUNT.matcher(account).matches()) {
            return Optional.of("arn:aws:cloudfront::" + account + ":distribution/" + distribution);
        }
        String start = action.startsWith("cloudfront:") ? "arn:aws:cloudfront:" : "arn:";
        return Optional.of(plain(firstResource)).filter(resource -> resource.startsWith(start));
    }

    /** A row has the pattern as it is to be; of millions of rows none is spelled again. */
    private String ofBucket(String below) {
        boolean isSpelled = firstResource.length() == BUCKET_ARN.length() + bucket.length() + below.length()
                && firstResource.startsWith(BUCKET_ARN)
                && firstResource.startsWith(bucket, BUCKET_ARN.length())
                && firstResource.endsWith(below);
        return isSpelled ? firstResource : BUCKET_ARN + bucket + below;
    }

    /** As {@link #BUCKET} tells, without its engine: it is asked for every event. */
    private static boolean isBucket(String name) {
        boolean isBucket = !name.isEmpty() && name.length() <= 255;
        for (int i = 0; i < name.length() && isBucket; i++) {
            char c = name.charAt(i);
            isBucket = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || "._-".indexOf(c) >= 0;
        }
        return isBucket;
    }

    private static String plain(String name) {
        boolean isName = name.length() <= LONGEST_NAME
                && name.indexOf('*') < 0
                && name.indexOf('?') < 0
                && name.indexOf('$') < 0;
        return isName ? name : "";
    }
}
