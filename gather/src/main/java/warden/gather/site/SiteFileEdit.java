package warden.gather.site;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import warden.core.document.JsonSpelling;
import warden.core.site.SiteFile;
import warden.core.site.SiteFile.StatedSite;
import warden.core.site.SitePattern;
import warden.gather.yaml.YamlNodes;

/** States patterns of sites in a site file's text, and leaves everything else of it as its owner wrote it. */
public final class SiteFileEdit {
    private final String text;
    private final String name;
    private final Set<String> checks;
    /** Texts to put in, by their offsets. */
    private final Map<Integer, String> additions = new HashMap<>();

    private SiteFileEdit(String text, String name, Set<String> checks) {
        this.text = text;
        this.name = name;
        this.checks = checks;
    }

    /**
     * A site and the pattern to state.
     *
     * @param hosts for a site that the file does not name yet
     * @param bucket for such a site; absent where the store has no name that a site file takes
     */
    public record Statement(String site, List<String> hosts, Optional<String> bucket, SitePattern pattern) {}

    /** A text and what it says. */
    public record Edited(String text, SiteFile file) {}

    /**
     * States patterns.
     *
     * @param text the file's; empty where there is none
     * @param checks the words that waivers may name
     * @return absent where the edited text would not say just this
     */
    public static Optional<Edited> stating(String text, String name, Set<String> checks, List<Statement> statements) {
        return new SiteFileEdit(text, name, checks).edited(statements);
    }

    private Optional<Edited> edited(List<Statement> statements) {
        try {
            SiteFile before = SiteFileReader.parse(text, name, checks);
            Optional<Node> root =
                    YamlNodes.only(text, "a site file", LoadSettings.builder().setLabel(name));
            List<Statement> fresh = new ArrayList<>();
            for (Statement statement : statements) {
                boolean isThere =
                        before.sites().stream().anyMatch(site -> site.name().equals(statement.site()));
                if (isThere) {
                    stateInEntry(root.orElseThrow(), statement);
                } else {
                    fresh.add(statement);
                }
            }
            String edited = added(addEntries(root, fresh));
            SiteFile after = SiteFileReader.parse(edited, name, checks);
            return says(before, after, statements) ? Optional.of(new Edited(edited, after)) : Optional.empty();
        } catch (SiteFileException | YamlNodes.Malformed unusable) {
            return Optional.empty();
        }
    }

    /** True where the new file says what the old one did, and the statements. */
    private static boolean says(SiteFile before, SiteFile after, List<Statement> statements) {
        Map<String, SitePattern> patterns = new HashMap<>();
        statements.forEach(statement -> patterns.put(statement.site(), statement.pattern()));
        Map<String, StatedSite> old = new HashMap<>();
        before.sites().forEach(site -> old.put(site.name(), site));
        boolean isStated = after.sites().stream()
                        .filter(site -> patterns.containsKey(site.name()))
                        .filter(site -> site.pattern().equals(Optional.of(patterns.get(site.name()))))
                        .count()
                == patterns.size();
        boolean isKept = after.sites().stream()
                .filter(site -> !patterns.containsKey(site.name()))
                .allMatch(site -> site.equals(old.get(site.name())));
        return isStated
                && isKept
                && after.trustedAccounts().equals(before.trustedAccounts())
                && after.gate().equals(before.gate())
                && after.waivers().equals(before.waivers());
    }

    private static Optional<Node> member(Node mapping, String key) {
        return mapping instanceof MappingNode members
                ? members.getValue().stream()
                        .filter(tuple -> tuple.getKeyNode() instanceof ScalarNode scalar
                                && scalar.getValue().equals(key))
                        .map(NodeTuple::getValueNode)
                        .findFirst()
                : Optional.empty();
    }

    private static Mark start(Node node) {
        return node.getStartMark().orElseThrow();
    }

    /** Marks count code points. */
    private int offset(Mark mark) {
        return text.offsetByCodePoints(0, mark.getIndex());
    }

    private int end(Node node) {
        return offset(node.getEndMark().orElseThrow());
    }

    private int lineEnd(int offset) {
        int at = text.indexOf('\n', offset);
        return at < 0 ? text.length() : at;
    }

    private int lineStart(int offset) {
        return text.lastIndexOf('\n', offset - 1) + 1;
    }

    /** Puts the pattern behind the name of a site that the file has. */
    private void stateInEntry(Node root, Statement statement) {
        member(root, "sites").stream()
                .filter(SequenceNode.class::isInstance)
                .flatMap(sites -> ((SequenceNode) sites).getValue().stream())
                .filter(entry -> member(entry, "name")
                        .filter(each -> each instanceof ScalarNode scalar
                                && scalar.getValue().equals(statement.site()))
                        .isPresent())
                .map(MappingNode.class::cast)
                .findFirst()
                .ifPresent(entry -> {
                    Node value = member(entry, "name").orElseThrow();
                    String says = "pattern: " + statement.pattern().word();
                    if (entry.getFlowStyle() == FlowStyle.FLOW) {
                        additions.put(end(value), ", " + says);
                    } else {
                        String indent = " ".repeat(start(entry).getColumn());
                        additions.put(lineEnd(end(value)), "\n" + indent + says);
                    }
                });
    }

    /** Puts in sites that the file does not have, before the others; returns what comes at the end of the text. */
    private String addEntries(Optional<Node> root, List<Statement> fresh) {
        if (fresh.isEmpty()) {
            return "";
        }
        Optional<Node> sites = root.flatMap(node -> member(node, "sites"));
        if (sites.isEmpty()) {
            return (text.isEmpty() || text.endsWith("\n") ? "" : "\n") + "sites:\n" + entries(fresh, "  ");
        }
        if (sites.get() instanceof SequenceNode sequence && sequence.getFlowStyle() == FlowStyle.BLOCK) {
            Mark at = start(sequence);
            additions.put(lineStart(offset(at)), entries(fresh, " ".repeat(at.getColumn())));
        } else if (sites.get() instanceof SequenceNode sequence) {
            List<String> items = fresh.stream().map(SiteFileEdit::inLine).toList();
            String rest = sequence.getValue().isEmpty() ? "" : ", ";
            additions.put(offset(start(sequence)) + 1, String.join(", ", items) + rest);
        } else {
            additions.put(
                    lineEnd(offset(start(sites.get()))),
                    "\n" + entries(fresh, "  ").stripTrailing());
        }
        return "";
    }

    private static String entries(List<Statement> fresh, String indent) {
        StringBuilder out = new StringBuilder();
        for (Statement each : fresh) {
            String first = indent + "- ";
            for (String member : members(each)) {
                out.append(first).append(member).append('\n');
                first = indent + "  ";
            }
        }
        return out.toString();
    }

    private static String inLine(Statement statement) {
        return "{" + String.join(", ", members(statement)) + "}";
    }

    private static List<String> members(Statement statement) {
        List<String> members = new ArrayList<>();
        members.add("name: " + JsonSpelling.quoted(statement.site()));
        members.add("pattern: " + statement.pattern().word());
        members.add("hosts: ["
                + String.join(
                        ", ",
                        statement.hosts().stream().map(JsonSpelling::quoted).toList()) + "]");
        statement.bucket().ifPresent(bucket -> members.add("bucket: " + JsonSpelling.quoted(bucket)));
        return members;
    }

    private String added(String atEnd) {
        StringBuilder out = new StringBuilder();
        for (int i = 0; i <= text.length(); i++) {
            out.append(additions.getOrDefault(i, ""));
            if (i < text.length()) {
                out.append(text.charAt(i));
            }
        }
        return out.append(atEnd).toString();
    }
}
