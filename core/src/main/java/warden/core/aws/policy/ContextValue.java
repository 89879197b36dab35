package warden.core.aws.policy;

import java.util.List;
import warden.core.algebra.Language;

/** What a request carries under one condition key. */
public sealed interface ContextValue {
    /** The request does not have the key. */
    ContextValue ABSENT = new Missing();

    /** Nothing is known of the key, not even whether the request has it. */
    ContextValue UNKNOWN = new OneOf(Language.all(), true);

    /** The key is absent from the request. */
    record Missing() implements ContextValue {}

    /** The key has these values; an empty list counts as absent. */
    record Known(List<String> values) implements ContextValue {
        public Known {
            values = List.copyOf(values);
        }

        /** Returns the one value {@code value}. */
        public static Known of(String value) {
            return new Known(List.of(value));
        }
    }

    /**
     * The key has one value of a language, which one is not known.
     *
     * @param mayBeAbsent whether the key may also be missing
     */
    record OneOf(Language values, boolean mayBeAbsent) implements ContextValue {}
}
