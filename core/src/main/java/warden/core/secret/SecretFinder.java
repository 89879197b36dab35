package warden.core.secret;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import org.jspecify.annotations.Nullable;
import warden.core.document.LatePattern;
import warden.core.secret.Anchors.Places;

/**
 * Finds secrets: by the forms that their issuers publish, and by names such as {@code password} with a value that looks random. Placeholders,
 * references to variables and the examples of documentation are none.
 */
public final class SecretFinder {
    /** What stands in the place of a secret. */
    static final String MASK = "****";

    private static final int FEWEST_GENERIC = 16;
    private static final double LEAST_ENTROPY = 3.3;

    /**
     * A form that an issuer gives its secrets.
     *
     * @param anchors the texts of which each of them holds one, looked for first since that is quick
     * @param before how many characters of it may stand before the anchor; {@value #ANY} where that is not bounded
     * @param pattern the whole, of which group 1, where there is one, is the secret part
     */
    private record Form(String kind, List<String> anchors, int before, LatePattern pattern) {
        static final int ANY = -1;

        /** Makes a form that begins with its anchor. */
        Form(String kind, String anchor, LatePattern pattern) {
            this(kind, anchor, 0, pattern);
        }

        Form(String kind, String anchor, int before, LatePattern pattern) {
            this(kind, List.of(anchor), before, pattern);
        }
    }

    /** Connection strings spell the same words in several ways. */
    private static final List<String> CONNECTION =
            List.of("assword=", "PASSWORD=", "pwd=", "Pwd=", "PWD=", "SharedAccessKey=");

    /** A value that stands there itself, not by the name of a variable. */
    private static final String LITERAL = "[\"']?([^\\s\"'$%<>{}|&;-][^\\s\"'$%<>{}|&;]{3,127})";

    /** What stands between an option and its value: blanks, and perhaps the end of a line that goes on. */
    private static final String APART = "[ \\t]+(?:\\\\\\r?\\n[ \\t]*)?";

    private static final List<Form> FORMS = List.of(
            new Form("an access key of the provider", "AKIA", LatePattern.of("\\bAKIA[A-Z0-9]{16}\\b")),
            new Form("a session's access key of the provider", "ASIA", LatePattern.of("\\bASIA[A-Z0-9]{16}\\b")),
            new Form(
                    "a private key",
                    "PRIVATE KEY-----",
                    95,
                    LatePattern.of("-----BEGIN ((?:[A-Z]{1,20} ){0,4}PRIVATE KEY)-----[A-Za-z0-9+/=\\\\\\s]{40,}")),
            new Form(
                    "a token of the repository's host",
                    List.of("ghp_", "gho_", "ghu_", "ghs_", "ghr_", "github_pat_"),
                    0,
                    LatePattern.of("(gh[pousr]_[A-Za-z0-9]{36,}|github_pat_[A-Za-z0-9_]{60,})")),
            new Form("a token of the repository's host", "glpat-", LatePattern.of("\\bglpat-[A-Za-z0-9_-]{20,}")),
            new Form("a token of a chat service", "xox", LatePattern.of("\\bxox[abeprs]-[A-Za-z0-9-]{20,}")),
            new Form("a payment service's secret key", "_live_", 2, LatePattern.of("\\b[sr]k_live_[A-Za-z0-9]{16,}")),
            new Form("a mail service's key", "SG.", LatePattern.of("\\bSG\\.[A-Za-z0-9_-]{20,}\\.[A-Za-z0-9_-]{30,}")),
            new Form("a package registry's token", "npm_", LatePattern.of("\\bnpm_[A-Za-z0-9]{36}\\b")),
            new Form("a package registry's token", "pypi-", LatePattern.of("\\bpypi-AgEI[A-Za-z0-9_-]{50,}")),
            new Form("a storage account's key", "AccountKey=", LatePattern.of("AccountKey=([A-Za-z0-9+/]{60,}={0,2})")),
            new Form(
                    "a password in an address",
                    "://",
                    13,
                    LatePattern.of("\\b[a-z][a-z0-9+.-]{1,12}://[^\\s/:@\"'<>${}]{0,64}:([^\\s/:@\"'<>${}]{4,128})@")),
            new Form(
                    "a password in a command",
                    "login",
                    88,
                    LatePattern.of(
                            "\\b(?:docker|podman|nerdctl|buildah|skopeo|crane|oras|helm|az|oc)\\s[^\\n|;&]{0,80}?\\blogin\\b[^\\n|;&]{0,200}?"
                                    + "\\s(?:-p[= ]?|--password[= ])\\s*" + LITERAL)),
            new Form("a password in a command", "sshpass", LatePattern.of("\\bsshpass\\s+-p\\s*" + LITERAL)),
            new Form(
                    "a password in a command",
                    "-pass",
                    34,
                    LatePattern.of("(?:^|\\s)--(?:[a-z-]{0,30}-)?(?:password|passwd|passphrase|pass)(?:=|" + APART + ")"
                            + LITERAL)),
            new Form(
                    "a secret in a command",
                    List.of("-key", "-apikey", "-token", "-secret"),
                    45,
                    LatePattern.of(
                            "(?:^|\\s)--(?:[a-z-]{0,30}-)?(?:account-key|customer-key|api-key|apikey|secret-key|access-key|"
                                    + "private-key|auth-key|copy-source-key|sse-c-key|client-secret|secret|token|sas-token)(?:=|"
                                    + APART
                                    + ")[\"']?(?![a-z]+=)(?=[^\\s\"']*[0-9])(?=[^\\s\"']*[A-Za-z])([^\\s\"'$%<>{}|&;=,-][^\\s\"'$<>{}|;]{7,511})")),
            new Form(
                    "a password in a command",
                    List.of(
                            "mysql",
                            "mariadb",
                            "mongo",
                            "sqlcmd",
                            "ftp",
                            "redis-cli",
                            "smbclient",
                            "htpasswd",
                            "mosquitto"),
                    2,
                    LatePattern.of(
                            "\\b(?:mysql(?:dump|admin)?\\s[^\\n|;&]{0,200}?-p|mariadb(?:-dump)?\\s[^\\n|;&]{0,200}?-p"
                                    + "|mongo(?:sh|dump|restore)?\\s[^\\n|;&]{0,200}?\\s-p\\s+|sqlcmd\\s[^\\n|;&]{0,200}?\\s-P\\s*"
                                    + "|(?:nc|l)?ftp(?:put|get)?\\s[^\\n|;&]{0,200}?\\s-p\\s+|redis-cli\\s[^\\n|;&]{0,200}?\\s-a\\s+"
                                    + "|smbclient\\s[^\\n|;&]{0,200}?\\s-U\\s*[^\\s%]{1,64}%|htpasswd\\s+-[a-zA-Z]*b[a-zA-Z]*\\s+\\S+\\s+\\S+\\s+"
                                    + "|mosquitto_(?:pub|sub)\\s[^\\n|;&]{0,200}?\\s-P\\s+)" + LITERAL)),
            new Form(
                    "a password in a command",
                    List.of("-u", "-a"),
                    8,
                    LatePattern.of("\\s(?:-u|-a|--user|--auth|--proxy-user)(?:=|\\s+)[\"']?[A-Za-z][^\\s:/\"'$]{0,63}:"
                            + "(?=[^\\s\"']*[0-9])(?=[^\\s\"']*[A-Za-z])([^\\s\"'$%<>{}:/]{6,128})")),
            new Form(
                    "a password in a command",
                    "curl",
                    LatePattern.of(
                            "\\bcurl\\s[^\\n|;]{0,300}?\\s?(?:-u|--user)[= ]?\\s*[\"']?[^\\s:\"'$]{1,64}:([^\\s\"'$%<>{}]{4,128})")),
            new Form(
                    "a password in a command",
                    "lftp",
                    LatePattern.of("\\blftp\\s[^\\n|;]{0,200}?-u\\s*[\"']?[^\\s,\"'$]{1,64},([^\\s\"'$%<>{}]{4,128})")),
            new Form(
                    "a secret key of the provider in a command",
                    "configure",
                    LatePattern.of(
                            "\\bconfigure\\s+set\\s+(?:[A-Za-z0-9_.-]+\\.)?aws_(?:secret_access_key|session_token)\\s+[\"']?([A-Za-z0-9/+=]{16,})")),
            new Form(
                    "credentials in a header",
                    "uthorization",
                    1,
                    LatePattern.of(
                            "[Aa]uthorization[\"']?\\s{0,3}[:=]\\s{0,3}[\"']?(?:Basic|Bearer|[Tt]oken)\\s+(?=[A-Za-z+/=._~-]*[0-9]|[A-Za-z0-9+/._~-]*=)([A-Za-z0-9+/=._~-]{8,})")),
            new Form(
                    "an incoming webhook of a chat service",
                    "hooks.slack.com/",
                    LatePattern.of("\\bhooks\\.slack\\.com/(?:services|workflows|triggers)/([A-Za-z0-9/_-]{20,})")),
            new Form(
                    "an incoming webhook of a chat service",
                    "discord",
                    LatePattern.of(
                            "\\bdiscord(?:app)?\\.com/api/(?:v[0-9]+/)?webhooks/[0-9]{5,}/([A-Za-z0-9_-]{20,})")),
            new Form(
                    "an incoming webhook of a chat service",
                    "office.com/webhook",
                    LatePattern.of("\\boffice\\.com/webhook(?:b2)?/([A-Za-z0-9@/_-]{30,})")),
            new Form(
                    "an incoming webhook of a chat service",
                    "chat.googleapis.com/",
                    LatePattern.of(
                            "\\bchat\\.googleapis\\.com/v1/spaces/[^\\s\"']{1,200}[?&]token=([A-Za-z0-9%_-]{20,})")),
            new Form(
                    "a bot's token of a chat service",
                    "api.telegram.org/bot",
                    LatePattern.of("\\bapi\\.telegram\\.org/bot([0-9]{6,}:[A-Za-z0-9_-]{30,})")),
            new Form(
                    "a signature that grants access to storage",
                    "sig=",
                    1,
                    LatePattern.of("[?&;]sig=([A-Za-z0-9%+/=]{30,})")),
            new Form(
                    "a password in a connection string",
                    CONNECTION,
                    Form.ANY,
                    LatePattern.of(
                            "(?i)\\b(?:server|data source|host|user id|uid|username|database|initial catalog|endpoint)=[^;\\n\"']{1,200};"
                                    + "(?:[^;\\n\"']{1,200};){0,8}\\s*(?:password|pwd|sharedaccesskey)=([^;\\s\"'$<>{}]{4,128})")),
            new Form(
                    "a password in a connection string",
                    CONNECTION,
                    Form.ANY,
                    LatePattern.of("(?i)\\b(?:password|pwd)=([^;\\s\"'$<>{}]{4,128});(?:[^;\\n\"']{1,200};){0,8}\\s*"
                            + "(?:server|data source|host|user id|uid|database|initial catalog)=")));

    /** What names of secrets hold. */
    private static final List<String> NAME_PARTS = List.of(
            "password",
            "passwd",
            "privatekey",
            "private_key",
            "private-key",
            "secret",
            "token",
            "apikey",
            "api_key",
            "api-key",
            "accesskey",
            "access_key",
            "access-key",
            "credential");

    /** What stands before a name that is itself a value: a list of settings names one beside its value. */
    private static final LatePattern NAMED = LatePattern.of("(?i)\\b(?:name|key)[\"']?\\s{0,4}[:=]\\s{0,4}[\"']?$");

    /** What stands between such a name and its value. */
    private static final LatePattern VALUE_BEHIND = LatePattern.of(
            "(?i)[\"']?\\s{0,40},?\\s{0,40}(?:-\\s)?(?:[\"']?type[\"']?\\s{0,4}[:=]\\s{0,4}[\"']?[a-z_]{1,40}[\"']?\\s{0,40},?\\s{0,40})?"
                    + "[\"']?value[\"']?\\s{0,4}[:=]");

    private static final LatePattern VALUE_BEFORE = LatePattern.of(
            "(?i)\\bvalue[\"']?\\s{0,4}[:=]\\s{0,4}[\"']?([^\\s\"',;{}$]{1,200})[\"']?\\s{0,40},?\\s{0,40}[\"']?(?:name|key)"
                    + "[\"']?\\s{0,4}[:=]\\s{0,4}[\"']?$");

    private static final int LONGEST_BEFORE_NAME = 20;
    private static final int LONGEST_BEFORE_VALUE = 340;
    private static final int LONGEST_BEHIND = 260;

    private static final int LONGEST_NAME = 60;
    private static final int LONGEST_VALUE = 200;
    private static final LatePattern PLACEHOLDER = LatePattern.of(
            "(?i).*(example|placeholder|change.?me|your|dummy|sample|xxxx|0000|1234567|abcdef|redacted|\\*{3}|\\.\\.\\.).*");

    /** What a directory calls somebody is no secret: a kind and a GUID. A GUID alone may be a token. */
    private static final LatePattern IDENTIFIER = LatePattern.of(
            "(?i)(servicePrincipals|users|groups|applications)/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}");

    /** Those of the forms, in their order, and behind them those of names. */
    private static final Anchors ANCHORS = new Anchors();

    private static final int NAMES;

    static {
        FORMS.forEach(form -> ANCHORS.add(form.anchors()));
        NAMES = ANCHORS.addOfAnyCase(NAME_PARTS);
    }

    private SecretFinder() {}

    /** Returns the secrets in a text, in the order in which they stand, none overlapping another. */
    public static List<Secret> find(String text) {
        List<Secret> found = new ArrayList<>();
        @Nullable Places[] places = ANCHORS.in(text);
        for (int form = 0; form < FORMS.size(); form++) {
            Places here = places[form];
            if (here != null) {
                byForm(text, FORMS.get(form), here, found);
            }
        }
        Places names = places[NAMES];
        if (names != null) {
            byName(text, names, found);
        }
        found.sort((one, other) -> one.from() != other.from()
                ? Integer.compare(one.from(), other.from())
                : Integer.compare(other.to(), one.to()));
        List<Secret> apart = new ArrayList<>();
        int end = -1;
        int line = 1;
        int at = 0;
        for (Secret secret : found) {
            if (secret.from() >= end) {
                for (; at < secret.from(); at++) {
                    line += text.charAt(at) == '\n' ? 1 : 0;
                }
                apart.add(new Secret(secret.kind(), line, secret.from(), secret.to()));
                end = secret.to();
            }
        }
        return apart;
    }

    /** Tries the pattern where it may begin: at an anchor, or so far before one. */
    private static void byForm(String text, Form form, Places anchors, List<Secret> found) {
        Matcher matcher =
                form.pattern().matcher(text).useTransparentBounds(true).useAnchoringBounds(false);
        if (form.before() == Form.ANY) {
            while (matcher.find()) {
                add(matcher, form, found);
            }
            return;
        }
        int at = 0;
        for (int i = 0; i < anchors.count(); i++) {
            int anchor = anchors.get(i);
            at = Math.max(at, anchor - form.before());
            while (at <= anchor) {
                if (matcher.region(at, text.length()).lookingAt()) {
                    add(matcher, form, found);
                    at = Math.max(at + 1, matcher.end());
                } else {
                    at++;
                }
            }
        }
    }

    private static void add(Matcher matcher, Form form, List<Secret> found) {
        boolean part = matcher.groupCount() > 0 && !form.kind().equals("a private key");
        String secret = part ? matcher.group(1) : matcher.group();
        if (!isPlaceholder(secret, form)) {
            int from = part ? matcher.start(1) : matcher.start();
            int to = part ? matcher.end(1) : matcher.end();
            found.add(new Secret(form.kind(), 0, from, to));
        }
    }

    private static boolean isPlaceholder(String secret, Form form) {
        boolean random = form.kind().startsWith("a password")
                || form.kind().startsWith("a secret in")
                || form.kind().equals("a private key");
        return PLACEHOLDER
                        .matcher(random ? secret : secret.replaceAll("[0-9]{4,}", ""))
                        .matches()
                || (form.kind().startsWith("a password") && secret.matches("(?i)pass(word)?|secret|token|\\*+"));
    }

    /** Looks at each name that speaks of a secret, and at what is assigned to it. */
    private static void byName(String text, Places parts, List<Secret> found) {
        int past = 0;
        for (int i = 0; i < parts.count(); i++) {
            int at = parts.get(i);
            // A name may have several such parts.
            if (at < past) {
                continue;
            }
            int begin = at;
            while (begin > 0 && at - begin < LONGEST_NAME && isOfName(text.charAt(begin - 1))) {
                begin--;
            }
            int end = at + 1;
            while (end < text.length() && end - at < LONGEST_NAME && isOfName(text.charAt(end))) {
                end++;
            }
            String name = text.substring(begin, end);
            assigned(text, name, end, found);
            paired(text, name, begin, found);
            past = end;
        }
    }

    /** {@code name: DB_PASSWORD} and beside it {@code value: …}, in whatever order. */
    private static void paired(String text, String name, int begin, List<Secret> found) {
        if (!before(NAMED, text, begin, LONGEST_BEFORE_NAME).find()) {
            return;
        }
        int end = begin + name.length();
        Matcher behind = VALUE_BEHIND.matcher(text).region(end, Math.min(text.length(), end + LONGEST_BEHIND));
        if (behind.lookingAt()) {
            value(text, name, behind.end(), found);
        }
        Matcher before = before(VALUE_BEFORE, text, begin, LONGEST_BEFORE_VALUE);
        if (before.find() && isSecretName(name) && looksRandom(before.group(1))) {
            found.add(new Secret("a value named " + shortened(name), 0, before.start(1), before.end(1)));
        }
    }

    private static Matcher before(LatePattern pattern, String text, int end, int length) {
        return pattern.matcher(text).region(Math.max(0, end - length), end);
    }

    private static void assigned(String text, String name, int end, List<Secret> found) {
        int at = end < text.length() && "\"'`".indexOf(text.charAt(end)) >= 0 ? end + 1 : end;
        at = blanks(text, at);
        if (at >= text.length() || (text.charAt(at) != ':' && text.charAt(at) != '=')) {
            return;
        }
        at++;
        // A key's arrow, a default of the shell, an assignment in two characters.
        if (at < text.length() && ">-=?".indexOf(text.charAt(at)) >= 0) {
            at++;
        }
        value(text, name, at, found);
    }

    /** Looks at the value that begins here: plain or quoted, on this line or the next, with or without a tag. */
    private static void value(String text, String name, int from, List<Secret> found) {
        int at = afterBreak(text, afterTag(text, blanks(text, from)));
        if (at + 1 < text.length() && text.charAt(at) == '$' && text.charAt(at + 1) == '\'') {
            at++;
        }
        char quote = at < text.length() && "\"'`".indexOf(text.charAt(at)) >= 0 ? text.charAt(at) : 0;
        int begin = quote == 0 ? at : at + 1;
        int to = begin;
        while (to < text.length()
                && to - begin <= LONGEST_VALUE
                && (isOfValue(text.charAt(to)) || (quote != 0 && text.charAt(to) == ' '))) {
            to++;
        }
        boolean closed = quote == 0
                ? to == text.length() || "(.[:".indexOf(text.charAt(to)) < 0
                : to < text.length() && text.charAt(to) == quote;
        if (closed
                && isSecretName(name)
                && looksRandom(text.substring(begin, to).replace(" ", ""))) {
            found.add(new Secret("a value named " + shortened(name), 0, begin, to));
        }
    }

    /** Passes over a tag or an anchor. Source: YAML 1.2, section 6.9, "Node Properties". */
    private static int afterTag(String text, int from) {
        int at = from;
        while (at < text.length() && (text.charAt(at) == '!' || (text.charAt(at) == '&' && isNamed(text, at + 1)))) {
            int end = at + 1;
            while (end < text.length()
                    && end - at < LONGEST_NAME
                    && (isOfName(text.charAt(end)) || text.charAt(end) == '!' || text.charAt(end) == ':')) {
                end++;
            }
            if (end >= text.length() || text.charAt(end) != ' ') {
                return from;
            }
            at = blanks(text, end);
        }
        return at;
    }

    private static boolean isNamed(String text, int at) {
        return at < text.length() && isOfName(text.charAt(at));
    }

    /** Passes over the end of a line, and over what begins a block of text. Source: YAML 1.2, section 8.1, "Block Scalar Styles". */
    private static int afterBreak(String text, int from) {
        int at = from;
        if (at < text.length() && (text.charAt(at) == '|' || text.charAt(at) == '>' || text.charAt(at) == '\\')) {
            at++;
            while (at < text.length() && "+-0123456789 \t".indexOf(text.charAt(at)) >= 0) {
                at++;
            }
        }
        if (at < text.length() && text.charAt(at) == '\r') {
            at++;
        }
        if (at >= text.length() || text.charAt(at) != '\n') {
            return from;
        }
        at++;
        int begin = at;
        while (at < text.length() && at - begin < LONGEST_NAME && (text.charAt(at) == ' ' || text.charAt(at) == '\t')) {
            at++;
        }
        // What stands at the margin is no part of the line before.
        return at > begin ? at : from;
    }

    private static int blanks(String text, int from) {
        int at = from;
        while (at < text.length() && at - from < 4 && (text.charAt(at) == ' ' || text.charAt(at) == '\t')) {
            at++;
        }
        return at;
    }

    private static boolean isOfName(char c) {
        return (c >= 'a' && c <= 'z')
                || (c >= 'A' && c <= 'Z')
                || (c >= '0' && c <= '9')
                || c == '_'
                || c == '.'
                || c == '-';
    }

    private static boolean isOfValue(char c) {
        return isOfName(c) || "+/~!@#%^&*=".indexOf(c) >= 0;
    }

    /** Names about keys and tokens that are public by their purpose. */
    private static boolean isSecretName(String name) {
        String lower = name.toLowerCase(Locale.ROOT);
        return !lower.matches(
                ".*(public|csrf|xsrf|tokenizer|token_?type|token_?url|token_?endpoint|keyboard|placeholder|"
                        + "secret_?name|key_?id|arn|sitekey|integrity).*");
    }

    /** True when the characters are as mixed as those of a generated secret. */
    private static boolean looksRandom(String value) {
        boolean mixed = value.chars().anyMatch(Character::isDigit)
                && value.chars().anyMatch(Character::isLetter)
                && !value.matches(".*\\.(js|css|html?|json|png|svg|com|org|net|ya?ml|txt|pem|md)")
                && !value.matches("[a-z]++([-_./][a-z0-9]++)++")
                && !value.matches("(sha(256|384|512)-.*|[0-9]{4}-[0-9]{2}-[0-9]{2}.*)")
                && !value.contains("://")
                && !IDENTIFIER.matcher(value).matches();
        return value.length() >= FEWEST_GENERIC
                && mixed
                && entropy(value) >= LEAST_ENTROPY
                && !PLACEHOLDER.matcher(value).matches();
    }

    /** Returns the Shannon entropy of the characters, in bits a character. */
    static double entropy(String value) {
        int[] counts = new int[128];
        for (int i = 0; i < value.length(); i++) {
            counts[value.charAt(i) & 127]++;
        }
        double bits = 0;
        for (int count : counts) {
            if (count > 0) {
                double share = (double) count / value.length();
                bits -= share * Math.log(share) / Math.log(2);
            }
        }
        return bits;
    }

    /** Returns the text with the secrets in it masked, but for the first four characters of those with a known form. */
    public static String masked(String text) {
        return excerpt(text, find(text), 0, text.length());
    }

    /**
     * Returns a part of a text with the secrets in it masked, those too that the part holds only a piece of.
     *
     * @param secrets those of the whole text, as {@link #find} returns them
     */
    public static String excerpt(String text, List<Secret> secrets, int from, int to) {
        StringBuilder out = new StringBuilder();
        int copied = from;
        for (Secret secret : secrets) {
            if (secret.to() <= copied || secret.from() >= to) {
                continue;
            }
            if (secret.from() >= copied) {
                out.append(text, copied, secret.from());
                out.append(hasTellingForm(secret) ? text.substring(secret.from(), secret.from() + 4) : "");
            }
            out.append(MASK);
            copied = Math.min(secret.to(), to);
        }
        return out.append(text, copied, Math.max(copied, to)).toString();
    }

    /** Of what has a form of its own the beginning tells which it is, and nothing more. */
    private static boolean hasTellingForm(Secret secret) {
        String kind = secret.kind();
        return !kind.startsWith("a value") && !kind.startsWith("a password") && !kind.startsWith("a secret in");
    }

    private static String shortened(String name) {
        return name.length() > 40 ? name.substring(0, 39) + "…" : name;
    }
}
