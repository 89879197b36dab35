package warden.cli;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.CheckCatalogue;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.cloud.Clouds;
import warden.core.mend.Plan;
import warden.core.mend.Planner;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;
import warden.core.survey.Survey;
import warden.gather.pipeline.PipelineVariables;

/** Writes what to change, in which order, and proves on a copy that it does no harm. */
@Command(
        name = "mend",
        addMethodSubcommands = false,
        description = {
            "Write what to change about the findings, in which order, with the proof that nobody outside gains, no visitor loses and"
                    + " publishers still publish at any step.",
            "Nothing is changed: it writes a folder with a page that explains it, a script that applies it and one that undoes it."
        })
final class MendCommand implements Callable<Integer> {
    /** The question that says whether publishers can publish. */
    private static final String OF_PUBLISHING = "publisher-cannot-publish";

    @Mixin
    private OutputOptions options = new OutputOptions();

    @Mixin
    private SurveyOptions input = new SurveyOptions();

    @Option(names = "--site", paramLabel = "NAME", description = "Only the findings of this site")
    private @Nullable String site;

    @Option(names = "--only", paramLabel = "CHECK|AREA", description = "Only this check or area; may repeat")
    private List<String> only = new ArrayList<>();

    @Option(
            names = "--pipeline",
            paramLabel = "FILE",
            description = "A pipeline file that tells what is needed, or a script that one runs; may repeat")
    private List<String> pipelines = new ArrayList<>();

    private final World world;

    MendCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        Predicate<CheckCard> wanted = CheckNames.wanted(only);
        Instant at = input.at(world.clock());
        Plan plan;
        try (Stages stages = options.stages(world.isTerminal())) {
            Clouds clouds = input.clouds(world, options);
            List<Site> sites = site == null ? List.of() : SiteNames.demand(clouds, site);
            Predicate<Finding> asked = finding -> wanted.test(finding.card())
                    && (site == null
                            || sites.stream().anyMatch(each -> finding.site()
                                    .filter(each.name()::equals)
                                    .isPresent()));
            List<Pipeline> known = PipelineFiles.read(pipelines, clouds, PipelineVariables.none());
            List<Check> checks = CheckCatalogue.asked();
            stages.at("checking", checks.size());
            Audit start = Audit.of(
                    new AuditContext(clouds, at, known, Optional.empty()),
                    checks,
                    card -> true,
                    check -> stages.step());
            plan = Planner.plan(
                    start,
                    checks,
                    checks.stream()
                            .filter(check -> check.card().id().equals(OF_PUBLISHING))
                            .toList(),
                    asked,
                    surveys -> opened(surveys, clouds, known, at),
                    Providers::menderOf,
                    (done, due) -> stages.at("proving step " + (done + 1) + " of " + due));
        }
        StringBuilder out = new StringBuilder();
        plan.steps()
                .forEach(step -> out.append(step.folder() + "  " + step.edited().title() + "\n"));
        plan.mended()
                .forEach(each -> out.append("MENDED " + each.finding().card().id() + " "
                        + each.finding().subject() + " " + each.steps() + "\n"));
        plan.left()
                .forEach(each -> out.append("LEFT " + each.finding().card().id() + " "
                        + each.finding().subject() + ": " + each.byHand().why() + "\n"));
        options.write(out.toString());
        return 0;
    }

    private static AuditContext opened(List<Survey> surveys, Clouds clouds, List<Pipeline> pipelines, Instant at) {
        return new AuditContext(
                Providers.open(surveys, clouds.file(), Optional.of(at)), at, pipelines, Optional.empty());
    }
}
