package warden.core.azure.access;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Who asks.
 *
 * @param spelled as questions spell it
 * @param objectId of a principal, in lower case; empty for others
 * @param account whose key it is; empty for others
 */
public record Caller(Kind kind, String spelled, String objectId, String account) {
    /** The kinds of callers. */
    public enum Kind {
        ANYONE,
        ANY_ACCOUNT,
        PRINCIPAL,
        KEY
    }

    public static final Caller ANYONE = new Caller(Kind.ANYONE, "anyone", "", "");
    public static final Caller ANY_ACCOUNT = new Caller(Kind.ANY_ACCOUNT, "any-account", "", "");
    private static final List<String> PRINCIPALS = List.of("servicePrincipals/", "users/", "groups/");
    private static final String KEY = "#key";

    /** Returns the caller that is a principal. */
    public static Caller principal(String spelled) {
        return new Caller(
                Kind.PRINCIPAL,
                spelled,
                spelled.substring(spelled.indexOf('/') + 1).toLowerCase(Locale.ROOT),
                "");
    }

    /** Returns the caller that holds an account's key. */
    public static Caller key(String account) {
        return new Caller(Kind.KEY, account + KEY, "", account);
    }

    /** Understands how questions spell a caller; absent for what names nobody. */
    static Optional<Caller> parse(String who) {
        if (who.equals("anyone")) {
            return Optional.of(ANYONE);
        }
        if (who.equals("any-account")) {
            return Optional.of(ANY_ACCOUNT);
        }
        if (who.endsWith(KEY) && who.startsWith("/")) {
            return Optional.of(key(who.substring(0, who.length() - KEY.length())));
        }
        return PRINCIPALS.stream()
                .filter(kind -> who.length() > kind.length() && who.regionMatches(true, 0, kind, 0, kind.length()))
                .findFirst()
                .map(kind -> principal(kind + who.substring(kind.length()).toLowerCase(Locale.ROOT)));
    }
}
