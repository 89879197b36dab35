package warden.gather.site;

import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.LoadSettingsBuilder;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import warden.core.document.DisplayText;
import warden.core.document.Words;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.Routing;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SiteFile.Waiver;
import warden.core.site.SitePattern;
import warden.gather.yaml.YamlNodes;

/** Reads a site file ({@code warden.yaml}). What the format does not know is an error, with the nearest known name. */
public final class SiteFileReader {
    private static final Set<String> TOP = Set.of("sites", "trusted-accounts", "gate", "waivers");
    private static final Set<String> SITE =
            Set.of("name", "hosts", "pattern", "routing", "index", "error", "bucket", "audience", "publishing");
    private static final Set<String> PUBLISHING = Set.of("credentials", "pipelines", "folder");
    private static final Set<String> WAIVER = Set.of("check", "subject", "until", "reason");
    /** Source: RFC 1035, section 2.3.4. */
    private static final int LONGEST_HOST = 253;

    private static final Pattern HOST =
            Pattern.compile("(\\*\\.)?[\\p{L}\\p{N}_]([\\p{L}\\p{N}_-]*)(\\.[\\p{L}\\p{N}_]([\\p{L}\\p{N}_-]*))*");
    private static final Pattern BUCKET = Pattern.compile("[A-Za-z0-9$][A-Za-z0-9._-]*");
    private static final Pattern ROLE_OR_USER = Pattern.compile("arn:aws[a-z-]*:iam::[0-9]{12}:(user|role)/.+");
    private static final Pattern GUID = Pattern.compile("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}");
    private static final Pattern RESOURCE_ID = Pattern.compile("(?i)/subscriptions/.+");
    private static final Pattern PRINCIPAL_ID =
            Pattern.compile("/.+|((servicePrincipals|users|groups|applications)/)?" + GUID.pattern());
    private static final List<String> GATES = List.of("critical", "high", "medium", "low", "never");

    private final String file;
    private final Set<String> checks;

    private SiteFileReader(String file, Set<String> checks) {
        this.file = file;
        this.checks = checks;
    }

    /**
     * Reads a file.
     *
     * @param name as the user gave it
     * @param checks the ids of all checks, which waivers may name
     */
    public static SiteFile read(String name, Set<String> checks) throws SiteFileException {
        try {
            return parse(Files.readString(Path.of(name)), name, checks);
        } catch (CharacterCodingException notText) {
            throw new SiteFileException(name + ": this is not UTF-8 text; a site file is YAML in UTF-8");
        } catch (IOException unreadable) {
            throw new SiteFileException(
                    name + ": there is no such file, or it cannot be read; give one with --site-file FILE");
        }
    }

    /** Reads a text. */
    public static SiteFile parse(String text, String name, Set<String> checks) throws SiteFileException {
        LoadSettingsBuilder settings = LoadSettings.builder()
                .setLabel(name)
                .setMaxAliasesForCollections(20)
                .setAllowRecursiveKeys(false);
        Optional<Node> root;
        try {
            root = YamlNodes.only(text, "a site file", settings);
        } catch (YamlNodes.Malformed broken) {
            throw new SiteFileException(
                    name + broken.at().map(SiteFileReader::place).orElse("") + ": " + broken.getMessage());
        }
        return root.isEmpty() ? SiteFile.empty() : new SiteFileReader(name, checks).file(root.get());
    }

    private static String place(Mark mark) {
        return ":" + (mark.getLine() + 1) + ":" + (mark.getColumn() + 1);
    }

    private SiteFileException wrong(Node at, String says) {
        return new SiteFileException(
                file + at.getStartMark().map(SiteFileReader::place).orElse("") + ": " + says);
    }

    private SiteFile file(Node root) throws SiteFileException {
        Map<String, Node> members = members(root, TOP, "the site file");
        List<StatedSite> sites = new ArrayList<>();
        Map<String, String> siteByHost = new HashMap<>();
        Set<String> names = new HashSet<>();
        for (Node node : items(members.get("sites"))) {
            StatedSite site = site(node);
            if (!names.add(site.name())) {
                throw wrong(
                        node, "there are two sites named \"" + DisplayText.name(site.name()) + "\"; name each once");
            }
            for (String host : site.hosts()) {
                String other = siteByHost.put(host, site.name());
                if (other != null) {
                    throw wrong(
                            node,
                            "the host " + DisplayText.name(host) + " is already the site \"" + DisplayText.name(other)
                                    + "\"'s; a host belongs to one site");
                }
            }
            sites.add(site);
        }
        List<String> trusted = new ArrayList<>();
        for (Node account : items(members.get("trusted-accounts"))) {
            String number = text(account);
            if (!number.matches("[0-9]{12}") && !GUID.matcher(number).matches()) {
                throw wrong(
                        account,
                        "an account number has 12 digits, and a directory's id is a GUID; write it in quotes, such as \"109876543210\"");
            }
            trusted.add(number);
        }
        List<Waiver> waivers = new ArrayList<>();
        for (Node waiver : items(members.get("waivers"))) {
            waivers.add(waiver(waiver));
        }
        Optional<String> gate = optional(members.get("gate"));
        if (gate.isPresent() && !GATES.contains(gate.get())) {
            throw wrong(members.get("gate"), "the gate is one of " + String.join(", ", GATES));
        }
        return new SiteFile(sites, trusted, gate, waivers);
    }

    private StatedSite site(Node node) throws SiteFileException {
        Map<String, Node> members = members(node, SITE, "a site");
        if (!members.containsKey("name")) {
            throw wrong(node, "a site needs a name");
        }
        Map<String, Node> publishing = members.containsKey("publishing")
                ? members(members.get("publishing"), PUBLISHING, "publishing")
                : Map.of();
        Optional<SitePattern> pattern = Optional.empty();
        if (members.containsKey("pattern")) {
            String word = text(members.get("pattern"));
            pattern = SitePattern.named(word);
            if (pattern.isEmpty()) {
                Set<String> known =
                        Stream.of(SitePattern.values()).map(SitePattern::word).collect(Collectors.toSet());
                throw wrong(
                        members.get("pattern"),
                        "there is no pattern \"" + DisplayText.name(word) + "\"" + perhaps(word, known));
            }
        }
        Optional<Routing> routing = Optional.empty();
        if (members.containsKey("routing")) {
            routing = switch (text(members.get("routing"))) {
                case "pages" -> Optional.of(Routing.PAGES);
                case "single-page" -> Optional.of(Routing.SINGLE_PAGE);
                default -> throw wrong(members.get("routing"), "routing is pages or single-page");
            };
        }
        return new StatedSite(
                text(members.get("name")),
                hosts(members.get("hosts")),
                pattern,
                routing,
                optional(members.get("index")),
                optional(members.get("error")),
                bucket(members.get("bucket")),
                credentials(publishing.get("credentials")),
                texts(publishing.get("pipelines")),
                optional(publishing.get("folder")),
                isPrivate(members.get("audience")));
    }

    private boolean isPrivate(@Nullable Node node) throws SiteFileException {
        if (node == null) {
            return false;
        }
        return switch (text(node)) {
            case "public" -> false;
            case "private" -> true;
            default -> throw wrong(node, "the audience is public or private");
        };
    }

    private List<String> hosts(@Nullable Node node) throws SiteFileException {
        List<String> hosts = new ArrayList<>();
        for (Node item : items(node)) {
            String text = text(item).toLowerCase(Locale.ROOT);
            String host = text.endsWith(".") ? text.substring(0, text.length() - 1) : text;
            if (host.length() > LONGEST_HOST || !HOST.matcher(host).matches()) {
                throw wrong(
                        item, "a host is a name such as www.heronferry.example, without https:// and without a path");
            }
            hosts.add(host);
        }
        return hosts;
    }

    private Optional<String> bucket(@Nullable Node node) throws SiteFileException {
        Optional<String> name = optional(node);
        if (node != null
                && !BUCKET.matcher(name.orElse("")).matches()
                && !RESOURCE_ID.matcher(name.orElse("")).matches()) {
            throw wrong(
                    node,
                    "a bucket is given by its name, without arn: or s3://; a container by its storage account's name or its id");
        }
        return name;
    }

    private List<String> credentials(@Nullable Node node) throws SiteFileException {
        List<String> arns = new ArrayList<>();
        for (Node item : items(node)) {
            String text = text(item);
            // The second provider's principals are known by an id or a resource's path.
            if (!ROLE_OR_USER.matcher(text).matches()
                    && !PRINCIPAL_ID.matcher(text).matches()) {
                throw wrong(
                        item,
                        "a credential is the ARN of a user or role, such as \"arn:aws:iam::210987654321:role/www-publisher\"");
            }
            arns.add(text);
        }
        return arns;
    }

    private Waiver waiver(Node node) throws SiteFileException {
        Map<String, Node> members = members(node, WAIVER, "a waiver");
        for (String needed : List.of("check", "until", "reason")) {
            if (!members.containsKey(needed)) {
                throw wrong(node, "a waiver needs " + needed);
            }
        }
        String check = text(members.get("check"));
        if (!checks.contains(check)) {
            throw wrong(
                    members.get("check"),
                    "there is no check \"" + DisplayText.name(check) + "\"" + perhaps(check, checks));
        }
        LocalDate until;
        try {
            until = LocalDate.parse(text(members.get("until")));
        } catch (DateTimeException strange) {
            throw wrong(members.get("until"), "until is a date such as 2027-03-31");
        }
        return new Waiver(check, optional(members.get("subject")).orElse("*"), until, text(members.get("reason")));
    }

    private Map<String, Node> members(Node node, Set<String> known, String what) throws SiteFileException {
        if (!(node instanceof MappingNode mapping)) {
            throw wrong(node, what + " is a list of members such as \"name: …\"");
        }
        Map<String, Node> members = new LinkedHashMap<>();
        for (NodeTuple tuple : mapping.getValue()) {
            String name = text(tuple.getKeyNode());
            if (!known.contains(name)) {
                throw wrong(
                        tuple.getKeyNode(),
                        what + " has no member \"" + DisplayText.name(name) + "\"" + perhaps(name, known));
            }
            if (members.put(name, tuple.getValueNode()) != null) {
                throw wrong(tuple.getKeyNode(), what + " has the member \"" + name + "\" twice");
            }
        }
        return members;
    }

    private static String perhaps(String word, Set<String> known) {
        return Words.perhaps(word, known)
                .orElse("; known are "
                        + String.join(", ", known.stream().sorted().limit(12).toList()));
    }

    private List<Node> items(@Nullable Node node) throws SiteFileException {
        if (node == null) {
            return List.of();
        }
        // A member whose items are all commented out says nothing.
        if (node instanceof ScalarNode scalar
                && scalar.isPlain()
                && scalar.getValue().isEmpty()) {
            return List.of();
        }
        if (!(node instanceof SequenceNode sequence)) {
            throw wrong(node, "this must be a list, each item on a line that begins with \"- \"");
        }
        return sequence.getValue();
    }

    private List<String> texts(@Nullable Node node) throws SiteFileException {
        List<String> texts = new ArrayList<>();
        for (Node item : items(node)) {
            texts.add(text(item));
        }
        return texts;
    }

    private Optional<String> optional(@Nullable Node node) throws SiteFileException {
        return node == null ? Optional.empty() : Optional.of(text(node));
    }

    private String text(Node node) throws SiteFileException {
        if (!(node instanceof ScalarNode scalar)) {
            throw wrong(node, "this must be a single text");
        }
        return scalar.getValue();
    }
}
