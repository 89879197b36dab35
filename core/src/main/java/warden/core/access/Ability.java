package warden.core.access;

import java.util.Locale;

/** What somebody may be able to do with a store: a bucket, a container. Which calls each stands for is the provider's to say. */
public enum Ability {
    /** Fetch objects, current or old. */
    READ,
    /** See the names of objects. */
    LIST,
    /** Put or replace objects; uploads in parts and copies into the store are the same. */
    WRITE,
    /** Remove objects or old versions. */
    DELETE,
    /** Change who may do what, or how the store serves and keeps its objects. */
    CHANGE_RULES;

    /** Returns the name that the matrix uses, such as {@code change-rules}. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
