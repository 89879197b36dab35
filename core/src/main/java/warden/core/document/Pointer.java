package warden.core.document;

import org.jspecify.annotations.Nullable;

/**
 * Names one place in a JSON document, as a JSON Pointer (RFC 6901). The root is the empty string.
 * Kept as a linked list, since most pointers are never printed.
 */
public final class Pointer {
    /** The document as a whole. */
    public static final Pointer ROOT = new Pointer(null, "");

    private final @Nullable Pointer parent;
    private final String token;

    private Pointer(@Nullable Pointer parent, String token) {
        this.parent = parent;
        this.token = token;
    }

    /** Returns the place of the member {@code name} of the object that stands here. */
    public Pointer member(String name) {
        return new Pointer(this, name);
    }

    /** Returns the place of an item of the array that stands here; {@code index} starts at 0. */
    public Pointer item(int index) {
        return new Pointer(this, Integer.toString(index));
    }

    @Override
    public String toString() {
        if (parent == null) {
            return "";
        }
        return parent + "/" + token.replace("~", "~0").replace("/", "~1");
    }

    @Override
    public boolean equals(Object other) {
        Pointer mine = this;
        Pointer theirs = other instanceof Pointer pointer ? pointer : null;
        while (mine != null && theirs != null && mine != theirs && mine.token.equals(theirs.token)) {
            mine = mine.parent;
            theirs = theirs.parent;
        }
        return mine == theirs;
    }

    @Override
    public int hashCode() {
        int hash = 0;
        for (Pointer at = this; at != null; at = at.parent) {
            hash = 31 * hash + at.token.hashCode();
        }
        return hash;
    }
}
