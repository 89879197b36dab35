package warden.gather.aws.template;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A part of a template as it is written.
 *
 * @param scalar a text, number, flag or null; null where it is a list or an object
 * @param items of a list; null where it is none
 * @param members of an object; null where it is none
 * @param line where it begins, counted from 1
 */
record CfnNode(
        @Nullable Object scalar,
        @Nullable List<CfnNode> items,
        @Nullable Map<String, CfnNode> members,
        int line) {
    /** Returns it as if it began on another line. */
    CfnNode at(int otherLine) {
        return new CfnNode(scalar, items, members, otherLine);
    }

    @Nullable
    CfnNode get(String name) {
        return members == null ? null : members.get(name);
    }
}
