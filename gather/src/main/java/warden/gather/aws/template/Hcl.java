package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The parts of a source in the tool's language. Source: the language's native syntax specification, "Structural elements", "Expressions". */
final class Hcl {
    private Hcl() {}

    /**
     * What stands between braces, or in a file.
     *
     * @param attributes by name
     */
    record Body(Map<String, Attribute> attributes, List<Block> blocks) {
        Body() {
            this(new LinkedHashMap<>(), new ArrayList<>());
        }
    }

    /** A name and what it is given. */
    record Attribute(Expression value, int line) {}

    /** A block with its labels. */
    record Block(String type, List<String> labels, Body body, String file, int line) {}

    /** Something that comes to a value. */
    sealed interface Expression
            permits Literal, Template, Items, Members, Call, Name, Attr, Index, Splat, Unary, Binary, Choice, For {}

    record Literal(@Nullable Object value) implements Expression {}

    /** Texts and expressions, in order. */
    record Template(List<Object> parts) implements Expression {}

    record Items(List<Expression> items) implements Expression {}

    record Member(Expression name, Expression value) {}

    record Members(List<Member> members) implements Expression {}

    /** A call of a function; the last argument may be spread out. */
    record Call(String function, List<Expression> arguments, boolean spreads) implements Expression {}

    record Name(String name) implements Expression {}

    record Attr(Expression of, String name) implements Expression {}

    record Index(Expression of, Expression at) implements Expression {}

    /** What follows is taken of each item. */
    record Splat(Expression of, List<Object> steps) implements Expression {}

    record Unary(String operator, Expression of) implements Expression {}

    record Binary(String operator, Expression left, Expression right) implements Expression {}

    record Choice(Expression condition, Expression yes, Expression no) implements Expression {}

    /**
     * Items or members made of a collection.
     *
     * @param key the name of the key; null where there is none
     * @param name what a member is called; null where items are made
     * @param only which are taken; null for all
     */
    record For(
            @Nullable String key,
            String value,
            Expression of,
            @Nullable Expression name,
            Expression result,
            @Nullable Expression only,
            boolean groups)
            implements Expression {}
}
