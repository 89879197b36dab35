package warden.gather.pipeline;

import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.LoadSettingsBuilder;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import warden.gather.yaml.YamlNodes;

/**
 * A part of a YAML document with its line. Merge keys are followed; a part that contains itself is cut off there.
 *
 * @param line where it begins, counted from 1
 * @param text a scalar's text; empty for others
 * @param textLine the line of a scalar's first character, which for a block is the one below its sign
 * @param members a mapping's members, in order; empty for others
 * @param items a list's items; empty for others
 */
public record Yaml(int line, boolean isScalar, String text, int textLine, Map<String, Yaml> members, List<Yaml> items) {
    /** A pipeline has some thousand parts; many more are an attack on the reader. */
    private static final int MOST_PARTS = 1_000_000;

    private static final int DEEPEST = 60;
    public static final Yaml NONE = new Yaml(1, false, "", 1, Map.of(), List.of());

    /** Why a text is no YAML that can be read. */
    static final class Refused extends Exception {
        private static final long serialVersionUID = 1L;
        private final int line;

        Refused(int line, String says) {
            super(says);
            this.line = line;
        }

        int line() {
            return line;
        }
    }

    /** Parses a text; of several documents, the first. */
    static Yaml parse(String text) throws Refused {
        LoadSettingsBuilder settings = LoadSettings.builder()
                .setMaxAliasesForCollections(200)
                .setAllowRecursiveKeys(false)
                .setAllowDuplicateKeys(true)
                .setCodePointLimit(20_000_000);
        Optional<Node> root;
        try {
            root = YamlNodes.first(text, "a pipeline", settings);
        } catch (YamlNodes.Malformed broken) {
            throw new Refused(
                    broken.at().map(mark -> mark.getLine() + 1).orElse(1), String.valueOf(broken.getMessage()));
        }
        return root.isEmpty() ? NONE : new Builder().build(root.get(), 0);
    }

    /** Turns nodes into parts, and gives up on documents that unfold into very many. */
    private static final class Builder {
        private final Set<Node> open = Collections.newSetFromMap(new IdentityHashMap<>());
        private int parts;

        Yaml build(Node node, int depth) throws Refused {
            int line = node.getStartMark().map(mark -> mark.getLine() + 1).orElse(1);
            if (++parts > MOST_PARTS) {
                throw new Refused(line, "it unfolds into more than a million parts, which no pipeline has");
            }
            if (depth > DEEPEST || !open.add(node)) {
                return NONE;
            }
            try {
                if (node instanceof ScalarNode scalar) {
                    boolean block = scalar.getScalarStyle() == ScalarStyle.LITERAL
                            || scalar.getScalarStyle() == ScalarStyle.FOLDED;
                    return new Yaml(line, true, scalar.getValue(), block ? line + 1 : line, Map.of(), List.of());
                }
                if (node instanceof SequenceNode sequence) {
                    List<Yaml> items = new ArrayList<>();
                    for (Node item : sequence.getValue()) {
                        items.add(build(item, depth + 1));
                    }
                    return new Yaml(line, false, "", line, Map.of(), items);
                }
                return new Yaml(line, false, "", line, members((MappingNode) node, depth), List.of());
            } finally {
                open.remove(node);
            }
        }

        private Map<String, Yaml> members(MappingNode mapping, int depth) throws Refused {
            Map<String, Yaml> own = new LinkedHashMap<>();
            Map<String, Yaml> merged = new LinkedHashMap<>();
            for (NodeTuple tuple : mapping.getValue()) {
                String name = tuple.getKeyNode() instanceof ScalarNode key ? key.getValue() : "";
                Yaml value = build(tuple.getValueNode(), depth + 1);
                if (name.equals("<<")) {
                    List<Yaml> sources = value.items().isEmpty() ? List.of(value) : value.items();
                    sources.forEach(source -> source.members().forEach(merged::putIfAbsent));
                } else {
                    int keyLine = tuple.getKeyNode()
                            .getStartMark()
                            .map(mark -> mark.getLine() + 1)
                            .orElse(value.line());
                    own.put(name, value.beginningAt(keyLine));
                }
            }
            merged.forEach(own::putIfAbsent);
            return own;
        }
    }

    private Yaml beginningAt(int otherLine) {
        return new Yaml(otherLine, isScalar, text, textLine, members, items);
    }

    /** Returns the part at a path; absent when there is none. */
    public Optional<Yaml> find(String... path) {
        Yaml here = this;
        for (String name : path) {
            here = here.members().get(name);
            if (here == null) {
                return Optional.empty();
            }
        }
        return Optional.of(here);
    }

    /** Returns the scalar at a path; absent when there is none. */
    public Optional<String> scalar(String... path) {
        return find(path).filter(Yaml::isScalar).map(Yaml::text);
    }

    /** Returns a list's items, or a scalar as the only item; lists within the list are laid flat. */
    public List<Yaml> each(String... path) {
        return find(path).map(Yaml::flat).orElse(List.of());
    }

    private List<Yaml> flat() {
        if (isScalar) {
            return List.of(this);
        }
        return items.stream()
                .flatMap(item -> item.isScalar || !item.members.isEmpty()
                        ? java.util.stream.Stream.of(item)
                        : item.flat().stream())
                .toList();
    }

    /** Returns the scalars of a mapping by name. */
    public Map<String, String> scalars(String... path) {
        Map<String, String> scalars = new LinkedHashMap<>();
        find(path).ifPresent(part -> part.members().forEach((name, value) -> {
            if (value.isScalar()) {
                scalars.put(name, value.text());
            } else {
                value.scalar("value").ifPresent(text -> scalars.put(name, text));
            }
        }));
        return scalars;
    }
}
