package warden.gather.aws.template;

import warden.core.document.Placeholders;

/**
 * A value that the description does not tell.
 *
 * @param why a phrase
 * @param placeholder what stands for it within a longer text
 * @param isError true where working it out fails, whatever is known; false where more knowledge would give a value
 */
record Unknown(String why, String placeholder, boolean isError) {
    private static final String NAMELESS = Placeholders.of("unknown");

    Unknown(String why, String placeholder) {
        this(why, placeholder, false);
    }

    /** Returns one that nothing in the description has a name for. */
    static Unknown of(String why) {
        return new Unknown(why, NAMELESS);
    }

    /** Returns one of which the tool would say that there is no such thing. */
    static Unknown error(String why) {
        return new Unknown(why, NAMELESS, true);
    }

    /** True where nothing in the description has a name for it, but what it belongs to. */
    boolean isNamelessOf(String address) {
        return placeholder.equals(NAMELESS) || placeholder.equals(Placeholders.of(address));
    }

    /** Returns it under the name of what it belongs to, where nothing else has named it. */
    Unknown named(String address) {
        return placeholder.equals(NAMELESS) ? new Unknown(why, Placeholders.of(address)) : this;
    }
}
