package warden.core.names;

import java.util.List;
import java.util.Optional;
import warden.core.document.Placeholders;
import warden.core.survey.Citation;

/**
 * One record set of a zone. Source: Route 53 API Reference, ResourceRecordSet.
 *
 * @param host in lower case, without the final dot, escapes resolved
 * @param alias the host that an alias record leads to, in lower case without the final dot
 * @param aliasZone the id of the zone that an alias target lies in
 * @param values the record's own values; empty for alias records
 * @param variant what tells it from others of the same name and type (weight, region and so on); empty when it is alone
 */
public record HostRecord(
        String zone,
        String host,
        String type,
        Optional<String> alias,
        Optional<String> aliasZone,
        List<String> values,
        String variant,
        Citation at) {
    public HostRecord {
        values = List.copyOf(values);
    }

    /** Returns the hosts that this record leads to: its alias target, or a CNAME's value. */
    public List<String> targets() {
        if (alias.isPresent()) {
            return List.of(alias.get());
        }
        return type.equals("CNAME") ? values.stream().map(HostRecord::canonical).toList() : List.of();
    }

    /** Returns a name in lower case, without its final dot, with octal escapes such as {@code \052} resolved. */
    public static String canonical(String name) {
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < name.length(); i++) {
            boolean escaped = name.charAt(i) == '\\'
                    && i + 3 < name.length()
                    && name.substring(i + 1, i + 4).matches("[0-7]{3}");
            if (escaped) {
                out.append((char) Integer.parseInt(name.substring(i + 1, i + 4), 8));
                i += 3;
            } else {
                out.append(name.charAt(i));
            }
        }
        String plain = Placeholders.lower(out.toString());
        return plain.endsWith(".") ? plain.substring(0, plain.length() - 1) : plain;
    }
}
