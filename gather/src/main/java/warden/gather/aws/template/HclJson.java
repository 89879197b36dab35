package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import warden.gather.aws.template.Hcl.Attribute;
import warden.gather.aws.template.Hcl.Block;
import warden.gather.aws.template.Hcl.Body;
import warden.gather.aws.template.Hcl.Expression;

/**
 * Reads a source in the language's JSON form. What nests in a block's body is read as attributes: an object stands for one block, a list for several.
 * Source: the language's documentation, "JSON Configuration Syntax".
 */
final class HclJson {
    /** How many names stand above a block's body. */
    private static final Map<String, Integer> LABELS = Map.of(
            "resource",
            2,
            "data",
            2,
            "variable",
            1,
            "output",
            1,
            "module",
            1,
            "provider",
            1,
            "locals",
            0,
            "terraform",
            0);

    private final String file;

    private HclJson(String file) {
        this.file = file;
    }

    /**
     * Reads a file.
     *
     * @throws TemplateException with file, line and column where it breaks off
     */
    static Body read(String file, String text) throws TemplateException {
        CfnNode root = CfnFile.read(file, text);
        if (root.members() == null) {
            throw new TemplateException(file, root.line(), 1, "a source in JSON is an object");
        }
        HclJson reader = new HclJson(file);
        Body body = new Body();
        for (Map.Entry<String, CfnNode> member : root.members().entrySet()) {
            Integer labels = LABELS.get(member.getKey());
            if (labels != null) {
                reader.blocks(body, member.getKey(), labels, List.of(), member.getValue());
            }
        }
        return body;
    }

    private void blocks(Body into, String type, int labels, List<String> names, CfnNode node) throws TemplateException {
        if (node.items() != null) {
            for (CfnNode item : node.items()) {
                blocks(into, type, labels, names, item);
            }
            return;
        }
        if (node.members() == null) {
            throw new TemplateException(
                    file, node.line(), 1, "an object is missing here, with what " + type + " holds");
        }
        if (names.size() < labels) {
            for (Map.Entry<String, CfnNode> member : node.members().entrySet()) {
                List<String> more = new ArrayList<>(names);
                more.add(member.getKey());
                if (!member.getKey().equals("//")) {
                    blocks(into, type, labels, more, member.getValue());
                }
            }
            return;
        }
        into.blocks().add(new Block(type, names, body(node), file, node.line()));
    }

    private Body body(CfnNode node) throws TemplateException {
        Body body = new Body();
        for (Map.Entry<String, CfnNode> member : node.members().entrySet()) {
            if (member.getKey().equals("dynamic")) {
                blocks(body, "dynamic", 1, List.of(), member.getValue());
            } else if (member.getKey().equals("content") && member.getValue().members() != null) {
                blocks(body, "content", 0, List.of(), member.getValue());
            } else if (!member.getKey().equals("//")) {
                body.attributes()
                        .put(
                                member.getKey(),
                                new Attribute(
                                        expression(member.getValue()),
                                        member.getValue().line()));
            }
        }
        return body;
    }

    private Expression expression(CfnNode node) throws TemplateException {
        if (node.items() != null) {
            List<Expression> items = new ArrayList<>();
            for (CfnNode item : node.items()) {
                items.add(expression(item));
            }
            return new Hcl.Items(items);
        }
        if (node.members() != null) {
            List<Hcl.Member> members = new ArrayList<>();
            for (Map.Entry<String, CfnNode> member : node.members().entrySet()) {
                members.add(new Hcl.Member(text(member.getKey(), node.line()), expression(member.getValue())));
            }
            return new Hcl.Members(members);
        }
        return node.scalar() instanceof String text ? text(text, node.line()) : new Hcl.Literal(node.scalar());
    }

    /** A text is a template; where it breaks off is told by its line in the file. */
    private Expression text(String text, int line) throws TemplateException {
        try {
            return HclReader.template(file, text);
        } catch (TemplateException broken) {
            String says = String.valueOf(broken.getMessage()).replaceFirst("^.*?:[0-9]+:[0-9]+: ", "");
            throw new TemplateException(file, line, 1, says);
        }
    }
}
