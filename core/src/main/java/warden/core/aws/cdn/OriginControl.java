package warden.core.aws.cdn;

import warden.core.document.JsonPart;

/**
 * An origin access control. Source: CloudFront API Reference, OriginAccessControlConfig.
 *
 * @param signs whether requests are signed: {@code always}, {@code no-override} or {@code never}
 * @param originType {@code s3} for buckets
 */
public record OriginControl(String signs, String originType) {
    /** Reads the answer of get-origin-access-control. */
    public static OriginControl parse(JsonPart answer) {
        JsonPart control = answer.find("OriginAccessControl").orElse(answer);
        JsonPart config = control.find("OriginAccessControlConfig").orElse(control);
        return new OriginControl(
                config.text("SigningBehavior").orElse(""),
                config.text("OriginAccessControlOriginType").orElse(""));
    }
}
