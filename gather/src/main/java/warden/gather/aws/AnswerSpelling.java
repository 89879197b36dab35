package warden.gather.aws;

import java.math.BigDecimal;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import software.amazon.awssdk.core.SdkField;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.core.util.SdkAutoConstructList;
import software.amazon.awssdk.core.util.SdkAutoConstructMap;
import software.amazon.awssdk.services.route53.model.HostedZone;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;

/** Spells an answer of the client library as the official command line prints it: member names as in the service's model. */
final class AnswerSpelling {
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd'T'HH:mm:ss[.SSSSSS]xxx");
    /** Members that hold policies percent-encoded, which the command line prints decoded. */
    private static final Set<String> ENCODED = Set.of("PolicyDocument", "AssumeRolePolicyDocument", "Document");
    /** Members with people's names and addresses, which a survey never holds. */
    private static final Set<String> CONTACTS = Set.of(
            "AdminContact",
            "RegistrantContact",
            "TechContact",
            "BillingContact",
            "AbuseContactEmail",
            "AbuseContactPhone");

    private AnswerSpelling() {}

    /** Returns the answer as JSON on one line. */
    static String spell(SdkPojo answer) {
        StringBuilder out = new StringBuilder();
        object(answer, out);
        return out.toString();
    }

    private static void object(SdkPojo pojo, StringBuilder out) {
        String comma = "{";
        for (SdkField<?> field : pojo.sdkFields()) {
            Object value = field.getValueOrDefault(pojo);
            boolean unset =
                    value == null || value instanceof SdkAutoConstructList || value instanceof SdkAutoConstructMap;
            if (unset
                    || CONTACTS.contains(field.memberName())
                    || field.memberName().equals("ExpiresString")) {
                continue;
            }
            out.append(comma).append(JsonSpelling.quoted(field.memberName())).append(':');
            value(pojo, field.memberName(), value, out);
            comma = ",";
        }
        out.append(comma.equals("{") ? "{}" : "}");
    }

    private static void value(SdkPojo owner, String name, Object value, StringBuilder out) {
        if (value instanceof SdkPojo pojo) {
            object(pojo, out);
        } else if (value instanceof List<?> list) {
            String comma = "[";
            for (Object item : list) {
                out.append(comma);
                value(owner, "", item, out);
                comma = ",";
            }
            out.append(list.isEmpty() ? "[]" : "]");
        } else if (value instanceof Map<?, ?> map) {
            String comma = "{";
            for (Map.Entry<?, ?> entry : map.entrySet()) {
                out.append(comma)
                        .append(JsonSpelling.quoted(String.valueOf(entry.getKey())))
                        .append(':');
                value(owner, "", entry.getValue(), out);
                comma = ",";
            }
            out.append(map.isEmpty() ? "{}" : "}");
        } else if (value instanceof Instant instant) {
            boolean whole = instant.getNano() == 0;
            out.append(JsonSpelling.quoted((whole ? DateTimeFormatter.ofPattern("yyyy-MM-dd'T'HH:mm:ssxxx") : TIME)
                    .format(instant.atOffset(ZoneOffset.UTC))));
        } else if (value instanceof Boolean || value instanceof Integer || value instanceof Long) {
            out.append(value);
        } else if (value instanceof Number number) {
            out.append(new BigDecimal(number.toString()).stripTrailingZeros().toPlainString());
        } else {
            String text = String.valueOf(value);
            if (owner instanceof HostedZone && name.equals("Id") && !text.startsWith("/")) {
                // The client library takes this prefix away, which the API and the command line have.
                text = "/hostedzone/" + text;
            }
            Optional<String> policy = ENCODED.contains(name) ? decoded(text) : Optional.empty();
            out.append(policy.isPresent() ? policy.get() : JsonSpelling.quoted(text));
        }
    }

    private static Optional<String> decoded(String text) {
        String plain;
        try {
            plain = text.startsWith("%7B") ? URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8) : text;
        } catch (IllegalArgumentException notEncoded) {
            return Optional.empty();
        }
        JsonReader.Result read = JsonReader.read(plain);
        return read.problems().isEmpty() ? read.root().map(JsonSpelling::of) : Optional.empty();
    }
}
