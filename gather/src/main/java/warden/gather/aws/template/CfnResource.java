package warden.gather.aws.template;

import warden.core.document.Placeholders;
import warden.core.survey.Place;

/**
 * One resource, evaluated.
 *
 * @param properties not told where it hangs on a condition that is not told
 * @param named the same, told for what it is about
 */
record CfnResource(String id, String type, Fields properties, Fields named, Place place) {
    /** Returns what a property calls it; a placeholder where it calls it nothing. */
    String name(String property) {
        return named.isUnknown() ? Placeholders.of(id) : named.name(property).orElse(Placeholders.of(id));
    }

    /** Returns the properties; ends in {@link NotTold} where they are not told. */
    Fields told() {
        if (properties.raw() instanceof Unknown unknown) {
            throw new NotTold(unknown.why());
        }
        return properties;
    }
}
