package warden.gather.pipeline;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;

/** Reads the scripts of a {@code package.json}. Source: the package manager's documentation, "scripts". */
final class PackageScripts {
    private PackageScripts() {}

    /** Reads the scripts that publish: those that say so by name, and those that no other script runs. */
    static Pipeline read(PipelineText text, JobContext context) {
        JsonReader.Result json = JsonReader.read(text.text());
        if (json.root().isEmpty() || !json.problems().isEmpty()) {
            return Pipeline.unreadable(text, Pipeline.Kind.PACKAGE_SCRIPTS, 1, "this is not valid JSON");
        }
        for (Map.Entry<String, String> script : scripts(json.root().get()).entrySet()) {
            boolean partOfOther = script.getKey().matches("(pre|post).+")
                    && scripts(json.root().get()).containsKey(script.getKey().replaceFirst("^(pre|post)", ""));
            if (!partOfOther && script.getKey().matches("(?i).*(deploy|publish|release|upload|sync).*")) {
                run(text.text(), script.getKey(), context, 0);
            }
        }
        return new Pipeline(
                text.path(),
                Pipeline.Kind.PACKAGE_SCRIPTS,
                text,
                Optional.empty(),
                List.of(),
                List.of(),
                context.steps());
    }

    private static Map<String, String> scripts(JsonPart root) {
        Map<String, String> scripts = new java.util.LinkedHashMap<>();
        root.find("scripts").filter(JsonPart.JsonObject.class::isInstance).ifPresent(all -> ((JsonPart.JsonObject) all)
                .members()
                .forEach((name, value) -> value.scalar().ifPresent(command -> scripts.put(name, command))));
        return scripts;
    }

    /**
     * Adds the steps of one script and of those that run before and after it.
     *
     * @param line the line that runs it, counted from 1; 0 to use the script's own
     * @return false when there is no such script
     */
    static boolean run(String text, String name, JobContext context, int line) {
        Set<String> running = new LinkedHashSet<>();
        run(text, name, context, line, running);
        return running.contains(name);
    }

    private static void run(String text, String name, JobContext context, int line, Set<String> running) {
        Map<String, String> scripts =
                JsonReader.read(text).root().map(PackageScripts::scripts).orElse(Map.of());
        for (String each : List.of("pre" + name, name, "post" + name)) {
            String command = scripts.get(each);
            if (command == null || !running.add(each)) {
                continue;
            }
            int at = line > 0 ? line : lineOf(text, each);
            java.util.regex.Matcher nested = java.util.regex.Pattern.compile(
                            "(?:npm|yarn|pnpm)(?:\\s+run)?\\s+([A-Za-z0-9:_-]+)")
                    .matcher(command);
            String rest = command;
            while (nested.find()) {
                if (scripts.containsKey(nested.group(1))) {
                    run(text, nested.group(1), context, at, running);
                    rest = rest.replace(nested.group(), "true");
                }
            }
            new Commands(context).scriptAt(rest, at);
        }
    }

    private static int lineOf(String text, String script) {
        List<String> lines = text.lines().toList();
        for (int i = 0; i < lines.size(); i++) {
            if (lines.get(i).contains("\"" + script + "\"")) {
                return i + 1;
            }
        }
        return 1;
    }
}
