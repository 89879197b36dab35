package warden.core.trace;

import java.net.IDN;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.document.DisplayText;
import warden.core.document.LatePattern;
import warden.core.document.Placeholders;

/**
 * A web address, brought into the form in which a browser sends it (RFC 3986; WHATWG URL for what browsers add): host in ASCII and lower
 * case, dot segments resolved, what must be escaped escaped.
 *
 * @param secure true for https
 * @param host in ASCII and lower case, without a final dot
 * @param port empty for the scheme's own
 * @param path as it is sent, escaped; begins with a slash
 * @param query as it is sent, without the question mark; absent when there is none
 * @param notes what was changed or left out, in words
 */
public record WebAddress(
        boolean secure, String host, OptionalInt port, String path, Optional<String> query, List<String> notes) {
    /** A host of which a part is not told yet. */
    private static final LatePattern OF_DESCRIPTION = LatePattern.of("(?:\\{[^{}]++}|[A-Za-z0-9._-]++)++");

    private static final LatePattern SCHEME = LatePattern.of("(?s)([A-Za-z][A-Za-z0-9+.-]*):(?://)?.*");
    private static final Pattern IPV4 = Pattern.compile("[0-9]{1,3}(\\.[0-9]{1,3}){3}");
    private static final Pattern HOST = Pattern.compile("[a-z0-9_]([a-z0-9_.-]*[a-z0-9_])?");
    private static final int LONGEST_LABEL = 63;
    private static final String SENT_AS_THEY_ARE = "-._~!$&'()*+,;=:@/";
    private static final int LONGEST = 8_192;

    public WebAddress {
        notes = List.copyOf(notes);
    }

    /** Either an address, or a phrase that says why the text is none. */
    public record Parsed(Optional<WebAddress> address, String problem) {
        private static Parsed wrong(String problem) {
            return new Parsed(Optional.empty(), problem);
        }
    }

    /** Parses what a person typed. Never throws. */
    public static Parsed parse(String text) {
        List<String> notes = new ArrayList<>();
        String rest = withoutBackslashes(text.strip());
        if (rest.isEmpty() || rest.length() > LONGEST) {
            return Parsed.wrong(rest.isEmpty() ? "it is empty" : "it is longer than " + LONGEST + " characters");
        }
        if (rest.chars().anyMatch(c -> c < 0x20 || c == 0x7F)) {
            return Parsed.wrong("it holds control characters");
        }
        boolean secure = true;
        String lower = rest.toLowerCase(Locale.ROOT);
        if (lower.startsWith("https://") || lower.startsWith("http://")) {
            secure = lower.startsWith("https://");
            rest = rest.substring(rest.indexOf("//") + 2);
        } else if (rest.startsWith("//")) {
            notes.add("no scheme was given; https is taken");
            rest = rest.substring(2);
        } else {
            Matcher scheme = SCHEME.matcher(rest);
            if (scheme.matches() && (rest.contains("://") || !rest.matches("[^/:]+:[0-9]+(/.*)?"))) {
                return Parsed.wrong("the scheme " + DisplayText.name(scheme.group(1))
                        + " is not one of a website; use http or https");
            }
            notes.add("no scheme was given; https is taken");
        }
        return rest(rest, secure, notes);
    }

    /** Before query and fragment, browsers take a backslash for a slash. Source: URL Living Standard, section 4.4, "special" schemes. */
    private static String withoutBackslashes(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '?' || c == '#') {
                return text.substring(0, i).replace('\\', '/') + text.substring(i);
            }
        }
        return text.replace('\\', '/');
    }

    private static Parsed rest(String text, boolean secure, List<String> notes) {
        String rest = text;
        int hash = rest.indexOf('#');
        if (hash >= 0) {
            notes.add("the part after # stays in the browser");
            rest = rest.substring(0, hash);
        }
        Optional<String> query = Optional.empty();
        int mark = rest.indexOf('?');
        if (mark >= 0) {
            query = Optional.of(rest.substring(mark + 1));
            rest = rest.substring(0, mark);
        }
        int slash = rest.indexOf('/');
        String authority = slash < 0 ? rest : rest.substring(0, slash);
        String path = slash < 0 ? "/" : rest.substring(slash);
        int at = authority.lastIndexOf('@');
        if (at >= 0) {
            notes.add("user name and password are left out");
            authority = authority.substring(at + 1);
        }
        OptionalInt port = OptionalInt.empty();
        int colon = authority.lastIndexOf(':');
        if (colon > authority.lastIndexOf('}') && authority.indexOf(']', colon) < 0) {
            String digits = authority.substring(colon + 1);
            authority = authority.substring(0, colon);
            if (!digits.isEmpty()) {
                if (!digits.matches("[0-9]{1,5}")
                        || Integer.parseInt(digits) < 1
                        || Integer.parseInt(digits) > 65_535) {
                    return Parsed.wrong("\"" + DisplayText.name(digits) + "\" is no port");
                }
                int number = Integer.parseInt(digits);
                port = number == (secure ? 443 : 80) ? OptionalInt.empty() : OptionalInt.of(number);
            }
        }
        Optional<String> host = host(authority);
        if (host.isEmpty()) {
            return Parsed.wrong(
                    authority.isEmpty()
                            ? "it names no host"
                            : "\"" + DisplayText.name(authority) + "\" is no host name");
        }
        if (!host.get().equalsIgnoreCase(authority)) {
            notes.add("the host is sent as " + host.get());
        }
        Optional<String> sent = escaped(path);
        Optional<String> sentQuery = query.map(text2 -> escapedQuery(text2));
        if (sent.isEmpty() || decoded(withoutDots(sent.get())).isEmpty()) {
            return Parsed.wrong("its path has a % that stands for no character");
        }
        String plain = withoutDots(sent.get());
        if (!plain.equals(path)) {
            notes.add("the path is sent as " + DisplayText.name(plain));
        }
        return new Parsed(Optional.of(new WebAddress(secure, host.get(), port, plain, sentQuery, notes)), "");
    }

    private static Optional<String> host(String text) {
        if (Placeholders.isIn(text)) {
            return OF_DESCRIPTION.matcher(text).matches() ? Optional.of(Placeholders.lower(text)) : Optional.empty();
        }
        if (text.startsWith("[") && text.endsWith("]")) {
            return text.matches("\\[[0-9A-Fa-f:.]+]") ? Optional.of(text.toLowerCase(Locale.ROOT)) : Optional.empty();
        }
        try {
            String ascii = (isPlain(text) ? text : IDN.toASCII(text, IDN.ALLOW_UNASSIGNED)).toLowerCase(Locale.ROOT);
            String plain = ascii.endsWith(".") ? ascii.substring(0, ascii.length() - 1) : ascii;
            return HOST.matcher(plain).matches() && !plain.contains("..") && plain.length() <= 253
                    ? Optional.of(plain)
                    : Optional.empty();
        } catch (IllegalArgumentException noName) {
            return Optional.empty();
        }
    }

    /** True for what is sent as it stands: letters of ASCII only, in labels of at most 63. Source: RFC 3490, section 4. */
    private static boolean isPlain(String text) {
        int label = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            label = c == '.' ? 0 : label + 1;
            if (c >= 0x80 || label > LONGEST_LABEL) {
                return false;
            }
        }
        return !text.isEmpty();
    }

    /** Escapes what may not be sent as it is; absent when a % is followed by anything but two hexadecimal digits. */
    private static Optional<String> escaped(String path) {
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < path.length(); ) {
            int c = path.codePointAt(i);
            i += Character.charCount(c);
            if (c == '%') {
                if (!path.startsWith("%", i - 1)
                        || i + 2 > path.length()
                        || !HexFormat.isHexDigit(path.charAt(i))
                        || !HexFormat.isHexDigit(path.charAt(i + 1))) {
                    return Optional.empty();
                }
                out.append('%');
            } else if (c < 0x80 && (Character.isLetterOrDigit(c) || SENT_AS_THEY_ARE.indexOf(c) >= 0)) {
                out.append((char) c);
            } else {
                for (byte b : Character.toString(c).getBytes(StandardCharsets.UTF_8)) {
                    out.append('%').append(HexFormat.of().withUpperCase().toHexDigits(b));
                }
            }
        }
        return Optional.of(out.toString());
    }

    private static String escapedQuery(String query) {
        StringBuilder out = new StringBuilder();
        query.codePoints().forEach(c -> {
            if (c > 0x20 && c < 0x7F && c != '"' && c != '<' && c != '>') {
                out.append((char) c);
            } else {
                for (byte b : Character.toString(c).getBytes(StandardCharsets.UTF_8)) {
                    out.append('%').append(HexFormat.of().withUpperCase().toHexDigits(b));
                }
            }
        });
        return out.toString();
    }

    /** Resolves the segments . and .. (RFC 3986, section 5.2.4), written plainly or escaped, as browsers do. */
    private static String withoutDots(String path) {
        Deque<String> kept = new ArrayDeque<>();
        String[] segments = path.substring(1).split("/", -1);
        for (int i = 0; i < segments.length; i++) {
            String plain = segments[i].toLowerCase(Locale.ROOT).replace("%2e", ".");
            boolean last = i == segments.length - 1;
            if (plain.equals("..")) {
                kept.pollLast();
            }
            if (plain.equals(".") || plain.equals("..")) {
                if (last) {
                    kept.addLast("");
                }
            } else {
                kept.addLast(segments[i]);
            }
        }
        return "/" + String.join("/", kept);
    }

    /** Resolves the escapes; absent when they do not spell UTF-8 text. */
    public static Optional<String> decoded(String path) {
        byte[] bytes = new byte[path.length()];
        int n = 0;
        for (int i = 0; i < path.length(); i++) {
            if (path.charAt(i) == '%') {
                bytes[n++] = (byte) HexFormat.fromHexDigits(path, i + 1, i + 3);
                i += 2;
            } else {
                bytes[n++] = (byte) path.charAt(i);
            }
        }
        try {
            return Optional.of(StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .decode(ByteBuffer.wrap(bytes, 0, n))
                    .toString());
        } catch (CharacterCodingException notText) {
            return Optional.empty();
        }
    }

    /** Escapes an object's key for use as a path, slashes kept. */
    public static String escapedKey(String key) {
        return escaped(key.replace("%", "%25")).orElse(key);
    }

    /** Returns the path with its escapes resolved: a slash and an object's key. */
    public String decodedPath() {
        return decoded(path).orElse(path);
    }

    /** True when the host is an address, not a name. */
    public boolean isLiteralAddress() {
        return host.startsWith("[") || IPV4.matcher(host).matches();
    }

    /** Returns the same address with another path, without a query. */
    public WebAddress withPath(String otherPath) {
        return new WebAddress(secure, host, port, otherPath, Optional.empty(), List.of());
    }

    /** Spells the address as it is sent. */
    @Override
    public String toString() {
        return (secure ? "https://" : "http://")
                + host
                + (port.isPresent() ? ":" + port.getAsInt() : "")
                + path
                + query.map(text -> "?" + text).orElse("");
    }
}
