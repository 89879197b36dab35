package warden.standin.aws;

import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.aws.policy.Actor;
import warden.standin.Refusal;
import warden.standin.WireRequest;

/**
 * Who signed a request, for which service and region. The signature itself is not looked at, since everything here is made up; its key, its session
 * token and its time are.
 *
 * <p>Source: IAM User Guide, "Signature Version 4 request signature"; S3 User Guide, "Signing and authenticating REST requests (AWS signature version
 * 2)"; S3 API Reference, "Error responses".
 *
 * @param service empty for unsigned requests
 * @param region empty for unsigned requests, and for signatures of the older kind
 */
record SignedCaller(Actor who, String service, String region, Optional<Session> session) {
    private static final Pattern CREDENTIAL =
            Pattern.compile("Credential=([^/,]+)/[0-9]{8}/([^/]+)/([^/]+)/aws4_request");
    private static final Pattern PRESIGNED = Pattern.compile("([^/]+)/[0-9]{8}/([^/]+)/([^/]+)/aws4_request");
    private static final Pattern OLD = Pattern.compile("AWS ([^:]+):.+");
    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'").withZone(ZoneOffset.UTC);
    private static final Duration MOST_SKEW = Duration.ofMinutes(15);

    /** Returns the service that a request is signed for, whoever signed it; {@code s3} for one that is not signed. */
    static String service(WireRequest request) {
        Matcher credential = CREDENTIAL.matcher(request.header("authorization"));
        if (credential.find()) {
            return credential.group(3);
        }
        Matcher presigned = PRESIGNED.matcher(request.query().getOrDefault("X-Amz-Credential", ""));
        return presigned.matches() ? presigned.group(3) : "s3";
    }

    /** Returns the access key id that a request is signed with; absent for one that is not signed. */
    static Optional<String> keyOf(WireRequest request) {
        String header = request.header("authorization");
        Matcher credential = CREDENTIAL.matcher(header);
        if (credential.find()) {
            return Optional.of(credential.group(1));
        }
        Matcher presigned = PRESIGNED.matcher(request.query().getOrDefault("X-Amz-Credential", ""));
        if (presigned.matches()) {
            return Optional.of(presigned.group(1));
        }
        Matcher old = OLD.matcher(header);
        return old.matches()
                ? Optional.of(old.group(1))
                : Optional.ofNullable(request.query().get("AWSAccessKeyId"));
    }

    /**
     * Finds out who calls.
     *
     * @throws Refusal for keys that nobody has, tokens that are not the session's, and times that are past
     */
    static SignedCaller of(WireRequest request, Gatekeeper gatekeeper, Clock clock) {
        Matcher credential = CREDENTIAL.matcher(request.header("authorization"));
        if (credential.find()) {
            time(request.header("x-amz-date"))
                    .filter(sent ->
                            Duration.between(sent, clock.instant()).abs().compareTo(MOST_SKEW) > 0)
                    .ifPresent(sent -> {
                        throw new Refusal(
                                403,
                                credential.group(3).equals("s3") ? "RequestTimeTooSkewed" : "SignatureDoesNotMatch",
                                "The difference between the request time and the current time is too large.");
                    });
            return by(
                    gatekeeper,
                    clock,
                    credential.group(1),
                    credential.group(3).equals("s3control") ? "s3" : credential.group(3),
                    credential.group(2),
                    Optional.ofNullable(request.headers().get("x-amz-security-token")));
        }
        Matcher presigned = PRESIGNED.matcher(request.query().getOrDefault("X-Amz-Credential", ""));
        if (presigned.matches()) {
            String seconds = request.query().getOrDefault("X-Amz-Expires", "");
            Optional<Instant> from = time(request.query().getOrDefault("X-Amz-Date", ""));
            if (from.isPresent() && seconds.matches("[0-9]{1,7}")) {
                demandNotOver(from.get().plusSeconds(Long.parseLong(seconds)), clock);
            }
            return by(
                    gatekeeper,
                    clock,
                    presigned.group(1),
                    presigned.group(3),
                    presigned.group(2),
                    Optional.ofNullable(request.query().get("X-Amz-Security-Token")));
        }
        Matcher old = OLD.matcher(request.header("authorization"));
        if (old.matches()) {
            return by(
                    gatekeeper,
                    clock,
                    old.group(1),
                    "s3",
                    "",
                    Optional.ofNullable(request.headers().get("x-amz-security-token")));
        }
        String key = request.query().getOrDefault("AWSAccessKeyId", "");
        if (!key.isEmpty() && request.query().containsKey("Signature")) {
            String expires = request.query().getOrDefault("Expires", "");
            if (expires.matches("[0-9]{1,12}")) {
                demandNotOver(Instant.ofEpochSecond(Long.parseLong(expires)), clock);
            }
            return by(
                    gatekeeper,
                    clock,
                    key,
                    "s3",
                    "",
                    Optional.ofNullable(request.query().get("x-amz-security-token")));
        }
        return new SignedCaller(new Actor.Anyone(), "", "", Optional.empty());
    }

    private static void demandNotOver(Instant end, Clock clock) {
        if (end.isBefore(clock.instant())) {
            throw new Refusal(403, "AccessDenied", "Request has expired");
        }
    }

    /** Returns a time as signatures spell it; absent for what is none. */
    static Optional<Instant> time(String text) {
        try {
            return Optional.of(Instant.from(TIME.parse(text)));
        } catch (DateTimeException noTime) {
            return Optional.empty();
        }
    }

    private static SignedCaller by(
            Gatekeeper gatekeeper, Clock clock, String key, String service, String region, Optional<String> token) {
        boolean isStorage = service.equals("s3");
        Optional<Session> session = gatekeeper.session(key);
        if (session.filter(each -> each.until().isBefore(clock.instant())).isPresent()) {
            throw new Refusal(isStorage ? 400 : 403, "ExpiredToken", "The provided token has expired.");
        }
        Actor who = gatekeeper
                .actor(key)
                .orElseThrow(() -> isStorage
                        ? new Refusal(
                                403,
                                "InvalidAccessKeyId",
                                "The access key id you provided does not exist in our records.")
                        : wrongToken(false));
        // A long-term key has no token, and a session's none but its own.
        if (!session.map(Session::token).equals(token.filter(text -> !text.isEmpty()))) {
            throw wrongToken(isStorage);
        }
        return new SignedCaller(who, service, region, session);
    }

    private static Refusal wrongToken(boolean isStorage) {
        return isStorage
                ? new Refusal(400, "InvalidToken", "The provided token is malformed or otherwise invalid.")
                : new Refusal(403, "InvalidClientTokenId", "The security token included in the request is invalid.");
    }
}
