package warden.gather.aws.template;

import java.util.LinkedHashMap;
import java.util.Map;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * The values of a template's parameters. Source: the official command line's reference, "cloudformation create-stack", option {@code --parameters};
 * "cloudformation deploy", option {@code --parameter-overrides}; CloudFormation User Guide, "Template configuration file".
 */
final class TemplateParameters {
    private TemplateParameters() {}

    /**
     * Reads a file of values, in any of the three forms.
     *
     * @throws TemplateException for a text that is none of them
     */
    static Map<String, Object> read(String file, String text) throws TemplateException {
        JsonPart root = JsonReader.read(text)
                .root()
                .orElseThrow(
                        () -> new TemplateException(
                                file,
                                "this is no JSON; parameters are [{\"ParameterKey\":…,\"ParameterValue\":…}] or {\"Parameters\":{…}}"));
        Map<String, Object> values = new LinkedHashMap<>();
        if (root instanceof JsonPart.JsonArray array) {
            for (JsonPart each : array.items()) {
                String pair = each.scalar().orElse("");
                int equals = pair.indexOf('=');
                if (equals > 0) {
                    values.put(pair.substring(0, equals), pair.substring(equals + 1));
                } else if (each.text("ParameterKey").isPresent()) {
                    values.put(
                            each.text("ParameterKey").get(),
                            each.text("ParameterValue").orElse(""));
                } else {
                    throw new TemplateException(
                            file, "an item is neither {\"ParameterKey\":…,\"ParameterValue\":…} nor \"Key=Value\"");
                }
            }
            return values;
        }
        if (root.find("Parameters").orElse(root) instanceof JsonPart.JsonObject object) {
            object.members()
                    .forEach((name, value) -> values.put(
                            name,
                            value instanceof JsonPart.JsonArray list
                                    ? (Object) list.items().stream()
                                            .map(TfPlan::plain)
                                            .toList()
                                    : value instanceof JsonPart.JsonObject
                                            ? TfPlan.plain(value)
                                            : value.scalar().orElse("")));
        }
        return values;
    }
}
