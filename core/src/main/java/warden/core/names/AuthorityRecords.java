package warden.core.names;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Records that say which certificate authorities may issue for a name and all below it. Source: RFC 8659. */
public final class AuthorityRecords {
    private static final Pattern VALUE = Pattern.compile("\\s*[0-9]+\\s+(\\S+)\\s+\"?([^\"]*)\"?\\s*");

    private AuthorityRecords() {}

    /** Returns those of a name itself. */
    public static List<HostRecord> of(HostDirectory hosts, String name) {
        return hosts.recordsOfAnyType(name).stream()
                .filter(record -> record.type().equals("CAA"))
                .toList();
    }

    /**
     * True when some of these records let one of the authorities issue. For wildcard names the tag issuewild goes first, where there is one.
     *
     * @param records of one name; none let everybody
     * @param authorities by their domain names, in lower case
     */
    public static boolean allow(List<HostRecord> records, boolean forWildcard, Set<String> authorities) {
        List<String> plain = values(records, "issue");
        List<String> forWild = values(records, "issuewild");
        List<String> counting = forWildcard && !forWild.isEmpty() ? forWild : plain;
        return counting.isEmpty() || counting.stream().anyMatch(authorities::contains);
    }

    private static List<String> values(List<HostRecord> records, String tag) {
        List<String> values = new ArrayList<>();
        for (String text :
                records.stream().flatMap(record -> record.values().stream()).toList()) {
            Matcher matcher = VALUE.matcher(text);
            if (matcher.matches() && matcher.group(1).equalsIgnoreCase(tag)) {
                values.add(matcher.group(2).replaceAll(";.*", "").strip().toLowerCase(Locale.ROOT));
            }
        }
        return values;
    }
}
