package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import warden.gather.yaml.YamlNodes;

/**
 * Reads a template's text, YAML or JSON, with its lines; short forms of functions are written out. Source: CloudFormation User Guide, "Template
 * anatomy", "Intrinsic function reference".
 */
final class CfnFile {
    static final int DEEPEST = 100;
    private static final int LARGEST = 10 * 1024 * 1024;

    private CfnFile() {}

    /**
     * Reads a text.
     *
     * @throws TemplateException with file, line and column where it breaks off
     */
    static CfnNode read(String file, String text) throws TemplateException {
        if (text.length() > LARGEST) {
            throw new TemplateException(file, "this is larger than 10 MB; no template is, so name the right file");
        }
        String plain = text.startsWith("\uFEFF") ? text.substring(1) : text;
        Optional<CfnNode> json = plain.stripLeading().startsWith("{") ? CfnJson.read(file, plain) : Optional.empty();
        if (json.isPresent()) {
            return json.get();
        }
        Node root;
        try {
            root = YamlNodes.only(
                            plain,
                            "a template",
                            LoadSettings.builder()
                                    .setCodePointLimit(LARGEST + 1024)
                                    .setMaxAliasesForCollections(200))
                    .orElseThrow(() -> new TemplateException(file, "this is empty; a template has Resources"));
        } catch (YamlNodes.Malformed broken) {
            Mark at = broken.at().orElse(null);
            String says = broken.getMessage() + "; mend the template";
            throw at == null
                    ? new TemplateException(file, says)
                    : new TemplateException(file, at.getLine() + 1, at.getColumn() + 1, says);
        }
        return node(file, root, 0);
    }

    private static int line(Node node) {
        return node.getStartMark().map(mark -> mark.getLine() + 1).orElse(1);
    }

    private static int column(Node node) {
        return node.getStartMark().map(mark -> mark.getColumn() + 1).orElse(1);
    }

    private static TemplateException broken(String file, Node node, String says) {
        return new TemplateException(file, line(node), column(node), says);
    }

    static TemplateException twice(String file, int line, int column, String member) {
        return new TemplateException(
                file, line, column, "the member \"" + member + "\" stands here a second time; leave one");
    }

    private static CfnNode node(String file, Node node, int depth) throws TemplateException {
        if (depth > DEEPEST) {
            throw broken(file, node, "it is nested too deep for a template");
        }
        String tag = node.getTag().getValue();
        CfnNode plain;
        if (node instanceof ScalarNode scalar) {
            plain = new CfnNode(value(scalar), null, null, line(node));
        } else if (node instanceof SequenceNode sequence) {
            List<CfnNode> items = new ArrayList<>();
            for (Node item : sequence.getValue()) {
                items.add(node(file, item, depth + 1));
            }
            plain = new CfnNode(null, items, null, line(node));
        } else if (node instanceof MappingNode mapping) {
            Map<String, CfnNode> members = new LinkedHashMap<>();
            for (NodeTuple tuple : mapping.getValue()) {
                if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
                    throw broken(file, tuple.getKeyNode(), "a member's name must be a text");
                }
                CfnNode member = node(file, tuple.getValueNode(), depth + 1);
                // Where the value begins on a later line, what a person looks for is the line of its name.
                if (members.putIfAbsent(key.getValue(), member.at(line(key))) != null) {
                    throw twice(file, line(key), column(key), key.getValue());
                }
            }
            plain = new CfnNode(null, null, members, line(node));
        } else {
            throw broken(file, node, "this is neither a text nor a list nor an object");
        }
        return tag.startsWith("!") && tag.length() > 1 ? function(tag.substring(1), plain) : plain;
    }

    /** Writes a short form out: {@code !GetAtt A.Arn} becomes {@code {"Fn::GetAtt": ["A", "Arn"]}}. */
    private static CfnNode function(String name, CfnNode argument) {
        String whole = name.equals("Ref") || name.equals("Condition") ? name : "Fn::" + name;
        CfnNode given = argument;
        if (name.equals("GetAtt") && argument.scalar() instanceof String text && text.indexOf('.') > 0) {
            given = new CfnNode(
                    null,
                    List.of(
                            new CfnNode(text.substring(0, text.indexOf('.')), null, null, argument.line()),
                            new CfnNode(text.substring(text.indexOf('.') + 1), null, null, argument.line())),
                    null,
                    argument.line());
        }
        return new CfnNode(null, null, Map.of(whole, given), argument.line());
    }

    private static @Nullable Object value(ScalarNode node) {
        String text = node.getValue();
        if (node.getScalarStyle() != ScalarStyle.PLAIN) {
            return text;
        }
        return switch (text) {
            case "", "~", "null", "Null", "NULL" -> null;
            case "true", "True", "TRUE", "yes", "Yes" -> true;
            case "false", "False", "FALSE", "no", "No" -> false;
            default -> number(text);
        };
    }

    /** Returns a whole number; a text as it is spelled where it is none, or too long for one. */
    static Object number(String text) {
        return text.matches("-?(0|[1-9][0-9]{0,17})") ? (Object) Long.valueOf(text) : text;
    }
}
