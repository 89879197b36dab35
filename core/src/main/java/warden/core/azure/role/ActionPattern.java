package warden.core.azure.role;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Names of actions. They compare without case; {@code *} stands for any run of characters, anywhere.
 *
 * <p>Source: Azure role-based access control, "Understand Azure role definitions", "Azure permissions for Storage".
 */
public final class ActionPattern {
    private static final String BLOBS = "microsoft.storage/storageaccounts/blobservices/containers/blobs/";
    /** The data actions on blobs; every other action of the storage is one of control. */
    private static final Set<String> DATA = Set.of(
            "read",
            "write",
            "delete",
            "add/action",
            "move/action",
            "filter/action",
            "tags/read",
            "tags/write",
            "deleteblobversion/action",
            "permanentdelete/action",
            "runassuperuser/action",
            "manageownership/action",
            "modifypermissions/action",
            "immutablestorage/runassuperuser/action");

    private ActionPattern() {}

    /** Returns whether an action is asked of data; the others are asked of control. */
    public static boolean isData(String action) {
        String lower = action.toLowerCase(Locale.ROOT);
        return lower.startsWith(BLOBS) && DATA.contains(lower.substring(BLOBS.length()));
    }

    /** Returns whether a pattern matches an action. */
    public static boolean matches(String pattern, String action) {
        return matches(canonical(pattern), 0, canonical(action), 0);
    }

    /** Returns whether one of some patterns matches an action. */
    static boolean matchesAny(List<String> patterns, String action) {
        String asked = canonical(action);
        for (String pattern : patterns) {
            if (matches(canonical(pattern), 0, asked, 0)) {
                return true;
            }
        }
        return false;
    }

    /** What roles and questions name is mostly the same few hundred actions. */
    private static final int MOST_KNOWN = 4_096;

    private static final Map<String, String> KNOWN = new ConcurrentHashMap<>();

    private static String canonical(String action) {
        String known = KNOWN.get(action);
        if (known != null) {
            return known;
        }
        String canonical = spelledOneWay(action);
        if (KNOWN.size() < MOST_KNOWN) {
            KNOWN.put(action, canonical);
        }
        return canonical;
    }

    /** Two spellings of the one action are the same. */
    private static String spelledOneWay(String action) {
        String lower = action.toLowerCase(Locale.ROOT);
        return lower.endsWith("userassignedidentities/assign/action")
                ? lower.replace("userassignedidentities/assign/action", "userassignedidentities/*/assign/action")
                : lower;
    }

    private static boolean matches(String pattern, int at, String action, int from) {
        int p = at;
        int a = from;
        int star = -1;
        int mark = -1;
        while (a < action.length()) {
            if (p < pattern.length() && pattern.charAt(p) == '*') {
                star = p++;
                mark = a;
            } else if (p < pattern.length() && pattern.charAt(p) == action.charAt(a)) {
                p++;
                a++;
            } else if (star >= 0) {
                p = star + 1;
                a = ++mark;
            } else {
                return false;
            }
        }
        while (p < pattern.length() && pattern.charAt(p) == '*') {
            p++;
        }
        return p == pattern.length();
    }
}
