package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.document.Json;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.gather.aws.template.DescribedSetups.Setup;
import warden.gather.aws.template.Templates.Source;
import warden.gather.survey.SurveyFiles;

/** An audit of what a description says comes to the same as one of the account in which it was applied. */
class DescribedSetupsTest {
    private static final Instant AT = Instant.parse("2026-11-24T00:00:00Z");

    static Stream<Setup> setups() {
        return DescribedSetups.all();
    }

    private static Survey survey(String text) throws Exception {
        return SurveyFiles.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "survey.ndjson");
    }

    /** Returns what an audit says, in the words of the account: names that a description makes up stand for the real ones. */
    private static TreeSet<String> said(Survey survey) {
        Audit audit = Audit.of(
                new AuditContext(
                        Providers.open(List.of(survey), SiteFile.empty(), Optional.of(AT)),
                        AT,
                        List.of(),
                        Optional.empty()),
                CheckCatalogue.asked(),
                card -> true,
                check -> {});
        TreeSet<String> said = new TreeSet<>();
        audit.findings()
                .forEach(each ->
                        said.add(each.severity().word() + " " + each.card().id() + " " + real(each.subject())));
        audit.unknowns()
                .forEach(each -> said.add("unknown " + each.card().id() + " "
                        + real(each.verdict().subject())));
        return said;
    }

    private static String real(String subject) {
        return subject.replaceAll("\\{(Edge|aws_cloudfront_distribution\\.site)}", "E1TIDES");
    }

    private static Survey described(Source source, Map<String, String> files) throws Exception {
        HclFolder folder = new HclFolder(files);
        Templates.Made made = Templates.make(
                List.of(source),
                new Templates.Given(
                        Optional.empty(),
                        Optional.of("eu-west-1"),
                        List.of(),
                        Optional.of(survey(Setup.beside())),
                        (of, name) -> Optional.empty(),
                        folder),
                "2026-11-20T08:00:00Z");
        Survey.Collector collector =
                new Survey.Collector(Providers.named("aws").orElseThrow().aspects());
        made.lines().forEach(collector::add);
        return collector.toSurvey(made.header());
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("setups")
    void aTemplateSaysTheSame(Setup setup) throws Exception {
        assertThat(said(described(new Source("site.yaml", setup.template(), false), Map.of())))
                .isEqualTo(said(survey(setup.live())));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("setups")
    void aSourceSaysTheSame(Setup setup) throws Exception {
        assertThat(said(described(new Source("source", "", true), Map.of("main.tf", setup.source()))))
                .isEqualTo(said(survey(setup.live())));
    }

    /** A plan and a state as the tool would make them of the source, in which what it worked out stands. */
    @ParameterizedTest(name = "{0}")
    @MethodSource("setups")
    void aPlanAndAStateSayTheSame(Setup setup) throws Exception {
        List<Object> resources = new ArrayList<>();
        List<Object> changes = new ArrayList<>();
        Description all = new Description(Optional.of(DescribedSetups.ACCOUNT), Optional.of("eu-west-1"), of -> false);
        for (TfResource each : new HclModule(
                        "source", "", new HclFolder(Map.of("main.tf", setup.source())), all, Map.of(), 0)
                .load()
                .resources()) {
            Object values = applied(each);
            String name = each.place().address().replaceFirst(".*\\.", "");
            resources.add(PlanText.resource(each.type(), name, values));
            changes.add(PlanText.change(each.type(), name, List.of("create"), null, values, Json.object()));
        }
        String plan = PlanText.of(changes, resources, List.of());
        TreeSet<String> live = said(survey(setup.live()));
        assertThat(said(described(new Source("plan.json", plan, false), Map.of())))
                .isEqualTo(live);
    }

    /** What the tool gives after the apply. */
    private static Object applied(TfResource each) {
        Map<String, Object> values = new LinkedHashMap<>();
        each.values().members().forEach((name, value) -> values.put(name, spelled(value.raw())));
        if (each.type().equals("aws_cloudfront_distribution")) {
            values.put("id", "E1TIDES");
            values.put("arn", "arn:aws:cloudfront::" + DescribedSetups.ACCOUNT + ":distribution/E1TIDES");
            values.put("domain_name", "d1tides.cloudfront.net");
        }
        if (each.type().equals("aws_cloudfront_origin_access_control")) {
            values.put("id", "E2CONTROL");
        }
        return values;
    }

    private static Object spelled(Object value) {
        if (value instanceof HclFunctions.Encoded encoded) {
            return text(Json.text(new Fields(encoded.value()).policy()));
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> out = new LinkedHashMap<>();
            map.forEach((name, member) -> out.put(String.valueOf(name), spelled(member)));
            return out;
        }
        if (value instanceof List<?> list) {
            List<Object> out = new ArrayList<>();
            list.forEach(item -> out.add(spelled(item)));
            return out;
        }
        return value instanceof String text ? text(text) : value;
    }

    private static String text(String text) {
        return text.replace("{aws_cloudfront_distribution.site}", "E1TIDES")
                .replace("{aws_cloudfront_origin_access_control.site}", "E2CONTROL");
    }
}
