package warden.core.aws.cdn;

import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * What a distribution shows viewers over TLS. Source: CloudFront API Reference, ViewerCertificate.
 *
 * @param managed the ARN of a certificate of the certificate manager; absent for the CDN's own and for those kept by IAM
 * @param keptByIam the id of a certificate kept by IAM; absent otherwise
 * @param supportMethod {@code sni-only}, {@code vip} or another word; empty when the answer does not say
 * @param minimumProtocol such as {@code TLSv1.2_2021}; empty when the answer does not say
 */
public record ViewerCertificate(
        Pointer at,
        Optional<String> managed,
        Optional<String> keptByIam,
        String supportMethod,
        String minimumProtocol) {
    static ViewerCertificate parse(JsonPart config) {
        JsonPart part = config.find("ViewerCertificate").orElse(config);
        return new ViewerCertificate(
                part.at(),
                part.text("ACMCertificateArn").filter(arn -> !arn.isEmpty()),
                part.text("IAMCertificateId").filter(id -> !id.isEmpty()),
                part.text("SSLSupportMethod").orElse(""),
                part.text("MinimumProtocolVersion").orElse(""));
    }

    /** True when viewers see the CDN's own certificate, which is for its own names only. */
    public boolean isTheCdns() {
        return managed.isEmpty() && keptByIam.isEmpty();
    }
}
