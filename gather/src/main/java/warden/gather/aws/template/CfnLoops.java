package warden.gather.aws.template;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.document.Placeholders;

/**
 * Writes loops out: {@code Fn::ForEach::Sites: [Name, [a, b], {"Site${Name}": …}]} stands for {@code Sitea} and {@code Siteb}. Source: CloudFormation
 * User Guide, "Fn::ForEach".
 */
final class CfnLoops {
    static final String LOOP = "Fn::ForEach::";

    /** The service takes templates of 500 resources. */
    private static final int MOST_NODES = 500_000;

    private final Function<CfnNode, Object> value;
    private int nodes;

    /**
     * Makes ready.
     *
     * @param value works out what a loop goes over
     */
    CfnLoops(Function<CfnNode, Object> value) {
        this.value = value;
    }

    static boolean hasAny(Map<String, CfnNode> members) {
        return members.keySet().stream().anyMatch(name -> name.startsWith(LOOP));
    }

    /** Returns the members with all loops written out; those over what is not told stay as they are. */
    Map<String, CfnNode> writtenOut(Map<String, CfnNode> members) {
        if (!hasAny(members)) {
            return members;
        }
        Map<String, CfnNode> out = new LinkedHashMap<>();
        members.forEach((name, member) -> {
            Optional<Map<String, CfnNode>> each = name.startsWith(LOOP) ? rounds(member) : Optional.empty();
            if (each.isPresent()) {
                out.putAll(each.get());
            } else {
                out.put(name, member);
            }
        });
        return out;
    }

    private Optional<Map<String, CfnNode>> rounds(CfnNode loop) {
        List<CfnNode> parts = loop.items();
        if (parts == null || parts.size() != 3 || !(parts.get(0).scalar() instanceof String variable)) {
            return Optional.empty();
        }
        Map<String, CfnNode> body = parts.get(2).members();
        if (body == null || !(value.apply(parts.get(1)) instanceof List<?> values)) {
            return Optional.empty();
        }
        Map<String, CfnNode> out = new LinkedHashMap<>();
        for (Object each : values) {
            if (!isTold(each)) {
                return Optional.empty();
            }
            Variable filled = new Variable(variable, String.valueOf(each));
            Map<String, CfnNode> round = new LinkedHashMap<>();
            body.forEach((name, member) -> round.put(filled.in(name), filled(filled, member)));
            if (nodes > MOST_NODES) {
                return Optional.empty();
            }
            out.putAll(writtenOut(round));
        }
        return Optional.of(out);
    }

    private static boolean isTold(@Nullable Object value) {
        return value instanceof Number || value instanceof String text && !Placeholders.isIn(text);
    }

    /** A loop's variable in one of its rounds. */
    private record Variable(String name, String value) {
        /** Fills it in; behind {@code &} without what logical names cannot hold. */
        String in(String text) {
            return text.indexOf('{') < 0
                    ? text
                    : text.replace("${" + name + "}", value)
                            .replace("&{" + name + "}", value.replaceAll("[^A-Za-z0-9]", ""));
        }
    }

    private CfnNode filled(Variable variable, CfnNode node) {
        if (++nodes > MOST_NODES) {
            return node;
        }
        if (node.items() != null) {
            return new CfnNode(
                    null,
                    node.items().stream().map(item -> filled(variable, item)).toList(),
                    null,
                    node.line());
        }
        if (node.members() != null) {
            CfnNode reference = node.members().size() == 1 ? node.get("Ref") : null;
            if (reference != null && variable.name().equals(reference.scalar())) {
                return new CfnNode(variable.value(), null, null, node.line());
            }
            Map<String, CfnNode> members = new LinkedHashMap<>();
            node.members().forEach((name, member) -> members.put(variable.in(name), filled(variable, member)));
            return new CfnNode(null, null, members, node.line());
        }
        return node.scalar() instanceof String text ? new CfnNode(variable.in(text), null, null, node.line()) : node;
    }
}
