package warden.gather.aws.template;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;

/**
 * For which objects a lifecycle rule is, as the provider answers: one member by itself, several under {@code And}. Source: S3 API Reference,
 * "LifecycleRuleFilter".
 */
final class LifecycleFilter {
    private final Map<String, Object> wants = new LinkedHashMap<>();

    LifecycleFilter with(String member, Optional<?> value) {
        value.ifPresent(given -> wants.put(member, given));
        return this;
    }

    /** Adds tags, each with its {@code Key} and {@code Value}. */
    LifecycleFilter tagged(List<?> tags) {
        if (!tags.isEmpty()) {
            wants.put("Tags", tags);
        }
        return this;
    }

    Map<String, Object> document() {
        if (wants.isEmpty()) {
            return Json.object("Prefix", "");
        }
        boolean isTag = wants.get("Tags") instanceof List<?> tags && tags.size() == 1;
        if (wants.size() == 1 && isTag) {
            return Json.object("Tag", ((List<?>) wants.get("Tags")).get(0));
        }
        return wants.size() == 1 && !wants.containsKey("Tags") ? wants : Json.object("And", wants);
    }
}
