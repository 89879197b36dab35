package warden.core.content;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What the name of a published file tells of it.
 *
 * <p>Source: MDN Web Docs, "Common MIME types".
 */
public final class PublishedPath {
    private static final Pattern PRIVATE = Pattern.compile(
            "(?:.*/)?(\\.git|\\.svn|\\.hg|\\.idea|\\.vscode|node_modules|\\.terraform|\\.aws|\\.ssh|\\.github"
                    + "|\\.gitlab-ci\\.yml|\\.env(?:\\.[A-Za-z0-9_-]+)?|\\.htpasswd|\\.npmrc|\\.netrc|\\.DS_Store|id_rsa|id_ed25519|[^/]+\\.tfstate(?:\\.backup)?"
                    + "|[^/]+\\.pem|[^/]+\\.swp|\\.gitignore|\\.gitattributes|terraform\\.tfvars|docker-compose\\.yml|Jenkinsfile|package-lock\\.json)(?:/.*)?");
    /** Certificates and public keys are made to be handed out. */
    private static final Pattern HANDED_OUT = Pattern.compile(
            "(?i)(.*[/._-])?(public|pub|cert|certificate|chain|fullchain|ca|ca-bundle|root|rds-combined)([._-].*)?\\.pem");

    private static final Pattern TOLERATED = Pattern.compile("\\.env\\.(example|sample|template)");
    private static final Pattern SOURCE_MAP = Pattern.compile("(?i).*\\.(js|mjs|css)\\.map");

    /** By ending: what the type has to begin with. */
    private static final Map<String, List<String>> TYPES = Map.of(
            "html", List.of("text/html", "application/xhtml+xml"),
            "htm", List.of("text/html", "application/xhtml+xml"),
            "css", List.of("text/css"),
            "js", List.of("text/javascript", "application/javascript", "application/x-javascript"),
            "mjs", List.of("text/javascript", "application/javascript"),
            "svg", List.of("image/svg+xml"));

    private static final Pattern DELICATE = Pattern.compile(
            "(?i)(.*\\.tfstate(\\.backup)?|(.*/)?\\.terraform/.*|.*\\.(sql|dump|bak|backup)(\\.gz|\\.zip)?|.*\\.log(\\.gz)?"
                    + "|(.*/)?(backups?|logs?|artifacts?|artefacts?)/.+|AWSLogs/.+|(.*/)?\\.env(\\..*)?)");

    private PublishedPath() {}

    /** True for names of what is kept for oneself: state, dumps, logs, backups, environments. */
    public static boolean isDelicate(String path) {
        return DELICATE.matcher(path).matches();
    }

    /** Returns the name by which a path belongs to what is nobody else's business, such as {@code .git}; absent for others. */
    public static Optional<String> privateName(String path) {
        Matcher matcher = PRIVATE.matcher(path);
        return matcher.matches()
                        && !HANDED_OUT.matcher(path).matches()
                        && !TOLERATED.matcher(matcher.group(1)).matches()
                ? Optional.of(matcher.group(1))
                : Optional.empty();
    }

    public static boolean isSourceMap(String path) {
        return SOURCE_MAP.matcher(path).matches();
    }

    /** True for files whose content type browsers look at. */
    public static boolean needsType(String path) {
        return TYPES.containsKey(ending(path));
    }

    /** True where browsers do not take a file of this type for what its name says. */
    public static boolean isWrongType(String path, String type) {
        return needsType(path) && TYPES.get(ending(path)).stream().noneMatch(type.toLowerCase(Locale.ROOT)::startsWith);
    }

    public static boolean isPage(String path) {
        return ending(path).startsWith("htm");
    }

    private static String ending(String path) {
        String name = path.substring(path.lastIndexOf('/') + 1);
        int dot = name.lastIndexOf('.');
        return dot < 0 ? "" : name.substring(dot + 1).toLowerCase(Locale.ROOT);
    }
}
