package warden.gather.aws.template;

import java.util.Optional;
import warden.core.document.Placeholders;
import warden.core.survey.Place;

/**
 * A resource of a plan, a state or a source.
 *
 * @param address its address, such as {@code module.site.aws_s3_bucket.this["prod"]}
 * @param module the address of the module that it stands in; empty for the root
 * @param values its attributes
 * @param change what becomes of it
 */
record TfResource(String address, String module, String type, Fields values, Change change, Place place) {
    /** What a plan does with a resource. */
    enum Change {
        /** It is made. */
        CREATED,
        /** It is there already, and stays, whether or not it is changed. */
        KEPT,
        /** It is taken away. */
        DELETED
    }

    /** Returns the address without what tells several of one block apart. */
    String block() {
        return withoutKeys(address);
    }

    static String withoutKeys(String address) {
        return address.replaceAll("\\[[^\\]]*]", "");
    }

    /** Returns what tells this one from others of the same block; empty for the only one. */
    String key() {
        int open = address.lastIndexOf('[');
        return open > 0 && address.endsWith("]") ? address.substring(open) : "";
    }

    boolean isCreated() {
        return change == Change.CREATED;
    }

    /** Returns what an attribute names, of which a part may be a placeholder; absent where nothing of it is told. */
    Optional<String> known(String attribute) {
        Object there = values.at(attribute).raw();
        if (there instanceof Partly partly) {
            return Optional.of(partly.text());
        }
        return there instanceof String text && !text.isEmpty() ? Optional.of(text) : Optional.empty();
    }

    /** Returns what an attribute names; a placeholder where nothing of it is told. */
    String name(String attribute) {
        return known(attribute).orElse(Placeholders.of(address));
    }

    /** Returns what an attribute says as text; the other where it says nothing. */
    String textOr(String attribute, String other) {
        return values.at(attribute).raw() instanceof String text && !text.isEmpty() ? text : other;
    }

    /** Returns an identity's path. */
    String path() {
        return textOr("path", "/");
    }

    /** Returns its identifier; a placeholder before it is made. */
    String id() {
        return textOr("id", Placeholders.of(address));
    }
}
