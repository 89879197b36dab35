package warden.cli;

import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.cloud.Clouds;
import warden.core.mend.Call;
import warden.core.mend.Edited;
import warden.core.mend.Plan;
import warden.core.mend.Planner;
import warden.core.mend.Plans;
import warden.core.mend.Redescribing;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.report.MendFiles;
import warden.report.MendJson;
import warden.report.MendText;

/** Writes what to change, in which order, and proves on a copy that it does no harm. */
final class MendCommand implements ProgramCommand, OutputOptions.WritesFolder {
    /** The question that says whether publishers can publish. */
    private static final String OF_PUBLISHING = "publisher-cannot-publish";

    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private final NeedOptions needs = new NeedOptions();
    private @Nullable String site;
    private List<String> only = new ArrayList<>();
    private @Nullable String gate;
    private final TemplateOptions templates = new TemplateOptions();
    private @Nullable String region;
    private final World world;

    MendCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Write what to change about the findings, in which order, with the proof that at no step anybody outside gains,"
                        + " a visitor loses, or a publisher cannot publish any more.",
                "Nothing is changed in any account: it writes a folder with a page that explains it, a script that applies it and one that"
                        + " takes it back; for a description (--template, or a survey of one) patches of its own text. Ends with 1 when a finding at or above the gate is left.");
        options.declare(line);
        input.declare(line);
        needs.declare(line);
        line.text(
                "--site",
                "NAME",
                "Only the findings of this site: its name, one of its hosts, or the first part of it",
                value -> site = value);
        line.texts("--only", "CHECK|AREA", "Only this check or area; may repeat", value -> only = value);
        line.text(
                "--gate",
                "critical|high|medium|low|never",
                "End with exit code 1 when a finding that is left is at least that bad. Default: the site file's, else high",
                value -> gate = value);
        templates.declare(line);
        line.text("--region", "NAME", "With --template: the region it is meant for", value -> region = value);
    }

    @Override
    public Integer call() {
        Predicate<CheckCard> wanted = CheckNames.wanted(only);
        Optional<String> named = Optional.ofNullable(gate);
        named.ifPresent(AuditCommand::limit);
        Optional<Path> folder = Optional.ofNullable(options.output());
        folder.ifPresent(path -> TargetFolder.demandEmpty(path, "--output"));
        Plans plans;
        Optional<Severity> limit;
        try (Stages stages = options.stages(world.isTerminal())) {
            boolean isOfTemplate = templates.isGiven();
            Optional<Descriptions> given = isOfTemplate ? Optional.of(descriptions()) : Optional.empty();
            Clouds clouds =
                    given.isPresent() ? input.clouds(given.get().read(), world, options) : input.clouds(world, options);
            Optional<Descriptions> described = given.or(() -> named(clouds));
            if (described.isEmpty()) {
                input.sayAge(clouds.accounts(), world, options);
            }
            limit = AuditCommand.limit(named.or(() -> clouds.file().gate()).orElse("high"));
            plans = plans(clouds, wanted, described, stages);
        }
        folder.ifPresent(path -> TargetFolder.write(path, files(plans), MendFiles::isScript, "--output"));
        options.show(
                switch (options.format()) {
                    case json -> MendJson.of(plans);
                    case text -> MendText.of(plans, folder.map(Path::toString), options.styleOfScreen(world));
                });
        boolean isLeft = limit.isPresent()
                && plans.plan().left().stream()
                        .anyMatch(left -> left.finding().severity().compareTo(limit.get()) <= 0);
        return (isLeft ? ExitCode.FOUND : ExitCode.DONE).number();
    }

    private Descriptions descriptions() {
        if (input.isSurveyNamed()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--template goes without --survey: the survey is made of it; leave one out");
        }
        if (templates.isFromStandardInput()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--template - can be read once only, and a patch needs a file; name the file");
        }
        return new Descriptions(
                templates,
                world,
                Optional.ofNullable(region),
                input.at(world.clock()).toString());
    }

    /** What a description says is changed in the description: no call reaches it. */
    private Optional<Descriptions> named(Clouds clouds) {
        List<Survey> surveys = clouds.surveys();
        Optional<Survey> described = surveys.stream()
                .filter(survey -> survey.header().isOfTemplate())
                .findFirst();
        if (described.isPresent() && surveys.size() > 1) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    described.get().header().file()
                            + ": this is of a description, and the others are of other accounts; mend it alone");
        }
        return described.map(survey -> Descriptions.of(survey, templates, world, Optional.ofNullable(region)));
    }

    private Plans plans(Clouds clouds, Predicate<CheckCard> wanted, Optional<Descriptions> described, Stages stages) {
        Instant at = input.at(world.clock());
        List<Site> sites = site == null ? List.of() : SiteNames.demand(clouds, site);
        Set<String> names = sites.stream().map(Site::name).collect(Collectors.toSet());
        Predicate<Finding> asked = finding -> wanted.test(finding.card())
                && (site == null || finding.site().filter(names::contains).isPresent());
        List<Pipeline> known = PipelineFiles.read(needs.pipelines(), clouds, needs.variables());
        List<Check> checks = CheckCatalogue.asked();
        stages.at("checking", checks.size());
        AuditContext context = new AuditContext(clouds, at, known, Optional.empty());
        Audit start = Audit.of(context, checks, card -> true, check -> stages.step());
        if (described.isPresent()) {
            stages.at("changing the descriptions");
            Plan plan = Redescribing.plan(
                    start,
                    checks,
                    ofPublishing(checks),
                    asked,
                    Providers::menderOf,
                    (surveys, rewritten) -> opened(surveys, clouds.file(), rewritten(known, rewritten), at),
                    described.get());
            return new Plans(plan, List.of(), Map.of(), Map.of());
        }
        SiteFileText file = input.siteFileText();
        return Plans.of(
                start,
                asked,
                planning(clouds.file(), known, at, "", stages),
                Providers::menderOf,
                (choices, answer) -> file.stating(clouds, choices, answer).map(stated -> {
                    AuditContext under = opened(clouds.surveys(), stated.file(), known, at);
                    return new Plans.Stated(
                            file.name(),
                            file.text(),
                            stated.text(),
                            Audit.of(under, checks, card -> true),
                            planning(stated.file(), known, at, " (" + answer.folder() + ")", stages));
                }));
    }

    private Plans.Planning planning(SiteFile file, List<Pipeline> known, Instant at, String which, Stages stages) {
        List<Check> checks = CheckCatalogue.asked();
        return (start, asked) -> Planner.plan(
                start,
                checks,
                ofPublishing(checks),
                asked,
                (surveys, rewritten) -> opened(surveys, file, rewritten(known, rewritten), at),
                Providers::menderOf,
                this::obstacle,
                (done, due) -> stages.at("proving step " + (done + 1) + " of " + due + which));
    }

    private static List<Check> ofPublishing(List<Check> checks) {
        return checks.stream()
                .filter(check -> check.card().id().equals(OF_PUBLISHING))
                .toList();
    }

    private static AuditContext opened(List<Survey> surveys, SiteFile file, List<Pipeline> pipelines, Instant at) {
        return new AuditContext(Providers.open(surveys, file, Optional.of(at)), at, pipelines, Optional.empty());
    }

    private static List<Pipeline> rewritten(List<Pipeline> pipelines, Map<String, String> texts) {
        return pipelines.stream()
                .map(pipeline -> texts.containsKey(pipeline.subject())
                        ? Gatherers.PIPELINES.parse(
                                new PipelineText(
                                        pipeline.text().path(),
                                        texts.get(pipeline.subject()),
                                        pipeline.text().from(),
                                        pipeline.text().inSurvey()),
                                Map.of())
                        : pipeline)
                .toList();
    }

    /** A document that holds a secret is written nowhere, and a masked one must never be handed to the provider. */
    private Optional<String> obstacle(Edited edited) {
        boolean isSayable = Stream.of(
                        edited.before().stream(),
                        edited.after().stream(),
                        edited.apply().file().stream(),
                        edited.undo().flatMap(Call::file).stream(),
                        edited.document().read().arguments().stream(),
                        edited.apply().arguments().stream())
                .flatMap(texts -> texts)
                .allMatch(options::isSayable);
        return isSayable ? Optional.empty() : Optional.of("its document holds a secret, which is written into no file");
    }

    /** Returns the files of a plan as they may be written. Surveys stay word for word: the next command reads them. */
    private Map<String, String> files(Plans plans) {
        Map<String, String> files = new LinkedHashMap<>();
        MendFiles.of(plans).forEach((path, text) -> {
            boolean isDocument = MendFiles.isDocument(path);
            files.put(path, isDocument ? text : path.endsWith(".json") ? options.json(text) : options.plain(text));
        });
        return files;
    }
}
