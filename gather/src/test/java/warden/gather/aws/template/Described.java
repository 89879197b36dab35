package warden.gather.aws.template;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.gather.aws.template.Templates.Given;
import warden.gather.aws.template.Templates.Made;
import warden.gather.aws.template.Templates.Source;
import warden.gather.survey.SurveyFiles;

/**
 * What comes of a description, for a test to look at.
 *
 * @param readings by aspect and subject: the found document, "absent", or "unread"
 * @param notes what a person is told
 */
record Described(Map<String, String> readings, List<String> notes) {
    static final String ACCOUNT = "210987654321";

    /** Reads a template. */
    static Described template(String text, Source... parameters) throws TemplateException {
        return of(new Source("site.yaml", text, false), Map.of(), true, Optional.empty(), parameters);
    }

    /** Reads a template, or a plan, laid over an account's survey. */
    static Described over(String survey, String text) throws Exception {
        return of(new Source("site.yaml", text, false), Map.of(), true, Optional.of(survey(survey)));
    }

    /** Reads a folder of sources of one file, laid over an account's survey. */
    static Described sourceOver(String survey, String text) throws Exception {
        return of(new Source("source", "", true), Map.of("main.tf", text), true, Optional.of(survey(survey)));
    }

    /** Reads a template with others that lie beside it. */
    static Described template(String text, Map<String, String> neighbours) throws TemplateException {
        return of(new Source("site.yaml", text, false), neighbours, true, Optional.empty());
    }

    private static Survey survey(String text) throws Exception {
        return SurveyFiles.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "live.ndjson");
    }

    /** Reads a template of which nothing tells account and region. */
    static Described somewhere(String text) throws TemplateException {
        return of(new Source("site.yaml", text, false), Map.of(), false, Optional.empty());
    }

    /** Reads a folder of sources of one file. */
    static Described source(String text) throws TemplateException {
        return sources(Map.of("main.tf", text));
    }

    static Described sources(Map<String, String> files) throws TemplateException {
        return of(new Source("source", "", true), files, true, Optional.empty());
    }

    private static Described of(
            Source source, Map<String, String> files, boolean isPlaced, Optional<Survey> beside, Source... parameters)
            throws TemplateException {
        Made made = Templates.make(
                List.of(source),
                new Given(
                        Optional.of(ACCOUNT).filter(account -> isPlaced),
                        Optional.of("eu-west-1").filter(region -> isPlaced),
                        List.of(parameters),
                        beside,
                        (of, name) -> Optional.ofNullable(files.get(name)),
                        new HclFolder(files)),
                "2026-11-20T08:00:00Z");
        Map<String, String> readings = new TreeMap<>();
        for (SurveyLine line : made.lines()) {
            readings.put(
                    line.aspect() + " " + line.of(),
                    switch (line.outcome()) {
                        case FOUND -> line.body();
                        case ABSENT -> "absent";
                        case UNREAD -> "unread";
                    });
        }
        return new Described(readings, made.notes());
    }

    /** Returns a reading; "none" where there is none. */
    String reading(String aspect, String of) {
        return readings.getOrDefault(aspect + " " + of, "none");
    }

    /** Returns the name of the bucket that is not called so. */
    String bucketBeside(String name) {
        return buckets().stream().filter(each -> !each.equals(name)).findFirst().orElseThrow();
    }

    /** Returns the names of all buckets. */
    List<String> buckets() {
        List<String> buckets = new ArrayList<>();
        readings.keySet().forEach(each -> {
            if (each.startsWith("bucket-location ")) {
                buckets.add(each.substring("bucket-location arn:aws:s3:::".length()));
            }
        });
        return buckets;
    }
}
