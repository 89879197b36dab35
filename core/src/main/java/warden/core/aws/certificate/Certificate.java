package warden.core.aws.certificate;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.document.Instants;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Reading;

/**
 * One certificate. Source: ACM API Reference, CertificateDetail.
 *
 * @param names the hosts that it is for, in lower case, wildcards as written
 * @param status such as {@code ISSUED} or {@code PENDING_VALIDATION}
 * @param type {@code AMAZON_ISSUED}, {@code IMPORTED} or {@code PRIVATE}
 * @param expires absent when it was never issued, or the date is in a form that is not understood
 * @param users the ARNs of what uses it
 * @param validations how each host is validated
 */
public record Certificate(
        String arn,
        List<String> names,
        String status,
        String type,
        Optional<Instant> expires,
        String renewalEligibility,
        Optional<String> renewalStatus,
        String keyAlgorithm,
        String signatureAlgorithm,
        List<String> users,
        List<Validation> validations,
        Citation at) {
    /** The region whose certificates the CDN reads. Source: CloudFront Developer Guide, "Requirements for using SSL/TLS certificates". */
    public static final String CDN_REGION = "us-east-1";

    /** How control of one host is shown; the record is absent where it is not by DNS. */
    public record Validation(String host, String method, String status, Optional<ValidationRecord> record) {}

    /** The DNS record that shows control of a host, its names in lower case without the final dot. */
    public record ValidationRecord(String name, String value) {}

    public Certificate {
        names = List.copyOf(names);
        users = List.copyOf(users);
        validations = List.copyOf(validations);
    }

    /** Reads the answer of describe-certificate. */
    public static Certificate parse(String arn, Reading.Found<JsonPart> found) {
        JsonPart part = found.value().find("Certificate").orElse(found.value());
        List<String> names = new ArrayList<>();
        part.text("DomainName").map(Certificate::lower).ifPresent(names::add);
        part.texts("SubjectAlternativeNames").stream()
                .map(Certificate::lower)
                .filter(name -> !names.contains(name))
                .forEach(names::add);
        List<Validation> validations = part.list("DomainValidationOptions").stream()
                .map(Certificate::validation)
                .toList();
        return new Certificate(
                arn,
                names,
                part.text("Status").orElse(""),
                part.text("Type").orElse(""),
                part.text("NotAfter").flatMap(Instants::parse),
                part.text("RenewalEligibility").orElse(""),
                part.text("RenewalSummary", "RenewalStatus"),
                part.text("KeyAlgorithm").orElse(""),
                part.text("SignatureAlgorithm").orElse(""),
                part.texts("InUseBy"),
                validations,
                found.at());
    }

    private static Validation validation(JsonPart part) {
        Optional<ValidationRecord> record = part.text("ResourceRecord", "Name")
                .map(name -> new ValidationRecord(
                        withoutDot(lower(name)),
                        withoutDot(lower(part.text("ResourceRecord", "Value").orElse("")))));
        return new Validation(
                part.text("DomainName").map(Certificate::lower).orElse(""),
                part.text("ValidationMethod").orElse(""),
                part.text("ValidationStatus").orElse(""),
                record);
    }

    private static String lower(String text) {
        return text.toLowerCase(Locale.ROOT);
    }

    private static String withoutDot(String name) {
        return name.endsWith(".") ? name.substring(0, name.length() - 1) : name;
    }

    /** True when one of its names is the host, or a wildcard for the host's first label. */
    public boolean covers(String host) {
        int dot = host.indexOf('.');
        return names.stream()
                .anyMatch(name -> name.equals(host)
                        || (name.startsWith("*.")
                                && dot > 0
                                && name.substring(1).equals(host.substring(dot))));
    }

    /** True when it was issued and not taken back. Expiry is told by {@link #expires}. */
    public boolean isIssued() {
        return status.equals("ISSUED") || status.equals("EXPIRED");
    }

    /** True when it was valid once and is past its end at {@code instant}. */
    public boolean isExpired(Instant instant) {
        return status.equals("EXPIRED")
                || expires.filter(end -> !end.isAfter(instant)).isPresent();
    }

    /** Returns the region that it lies in, from its ARN. */
    public String region() {
        String[] parts = arn.split(":", 6);
        return parts.length < 6 ? "" : parts[3];
    }

    public boolean isImported() {
        return type.equals("IMPORTED");
    }
}
