package warden.gather.aws.template;

import java.util.List;
import java.util.Map;
import warden.core.document.Json;

/** Plans as the tool prints them, for tests. Source: the tool's documentation, "JSON Output Format". */
final class PlanText {
    private PlanText() {}

    /** Returns a resource as it will be. */
    static Map<String, Object> resource(String type, String name, Object values) {
        return Json.object(
                "address", type + "." + name, "mode", "managed", "type", type, "name", name, "values", values);
    }

    /** Returns what is done to a resource. */
    static Map<String, Object> change(
            String type, String name, List<String> actions, Object before, Object after, Object unknown) {
        return Json.object(
                "address",
                type + "." + name,
                "mode",
                "managed",
                "type",
                type,
                "name",
                name,
                "change",
                Json.object("actions", actions, "before", before, "after", after, "after_unknown", unknown));
    }

    /**
     * Returns a plan.
     *
     * @param configuration the resources of the source, with the references of their expressions
     */
    static String of(List<?> changes, List<?> resources, List<?> configuration) {
        return Json.text(Json.object(
                "format_version",
                "1.2",
                "planned_values",
                Json.object("root_module", Json.object("resources", resources)),
                "resource_changes",
                changes,
                "configuration",
                Json.object("root_module", Json.object("resources", configuration))));
    }
}
