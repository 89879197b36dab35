package warden.core.storage;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.policy.Truth;
import warden.core.survey.Citation;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** The names of a bucket's objects, as far as they were listed. */
public final class ObjectListing {
    private final Map<String, Citation> citations;
    private final boolean complete;

    private ObjectListing(Map<String, Citation> citations, boolean complete) {
        this.citations = citations;
        this.complete = complete;
    }

    static ObjectListing of(Survey.Listing listing) {
        Map<String, Citation> citations = new LinkedHashMap<>();
        for (Reading.Found<JsonPart> page : listing.pages()) {
            for (JsonPart entry : page.value().list("Contents")) {
                entry.text("Key")
                        .ifPresent(key ->
                                citations.put(key, page.at().at(entry.at().toString(), key)));
            }
        }
        return new ObjectListing(citations, listing.complete());
    }

    /** Returns the keys in the order of the listing. */
    public Set<String> keys() {
        return citations.keySet();
    }

    /** True when the listing ended, so that what is not in it does not exist. */
    public boolean isComplete() {
        return complete;
    }

    /** Returns whether the object exists; unknown when it is not listed and the listing did not end. */
    public Truth has(String key) {
        if (citations.containsKey(key)) {
            return Truth.TRUE;
        }
        return complete ? Truth.FALSE : Truth.UNKNOWN;
    }

    /** Returns where the object is listed. */
    public Optional<Citation> citation(String key) {
        return Optional.ofNullable(citations.get(key));
    }
}
