package warden.core.checks.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import warden.core.audit.AuditContext;
import warden.core.audit.CheckCard;
import warden.core.audit.EachCheck;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.cloud.Deployments;
import warden.core.cloud.ObjectStore;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;
import warden.core.survey.Need;

/** A check that asks its question of every pipeline. A pipeline that could not be read leaves the question open. */
public interface PipelineCheck extends EachCheck<PipelineCheck.Subject> {
    /** One pipeline and what it publishes. */
    record Subject(AuditContext context, Pipeline pipeline, List<Site> sites) implements Judged {
        public Subject {
            sites = List.copyOf(sites);
        }

        /** Returns the deployments of the clouds that the pipeline has to do with. */
        public List<Deployments> deployments() {
            return context.deployments().stream()
                    .filter(each -> each.concerns(pipeline))
                    .toList();
        }

        /** Returns the store that a step works in; absent where nothing tells. */
        public Optional<ObjectStore> storeOf(DeploymentStep step) {
            return deployments().stream()
                    .<ObjectStore>flatMap(each -> each.storeOf(pipeline, step).stream())
                    .findFirst();
        }

        /** Returns the name of its site; absent when it publishes none, or several. */
        public Optional<String> site() {
            return sites.stream().findFirst().map(Site::name);
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return new Verdict.Clean(pipeline.subject(), site());
        }

        /** Returns a finding about a step. */
        public Finding finding(CheckCard card, DeploymentStep step, String says) {
            return Finding.of(card, pipeline.subject(), site(), says, List.of(pipeline.cite(step)))
                    .at(step.command());
        }

        /** Returns a finding about a line, counted from 1. */
        public Finding finding(CheckCard card, int line, String place, String says) {
            return Finding.of(card, pipeline.subject(), site(), says, List.of(pipeline.cite(line)))
                    .at(place);
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(pipeline.subject(), site(), needs);
        }

        /** Returns the verdict that it cannot be told, for a reason in the pipeline itself. */
        public Verdict unknown(String why) {
            return unknown(List.of(new Need(pipeline.aspect(), pipeline.subject(), why, "")));
        }

        /** As {@link #verdicts}, where the answer rests on what these needs would tell: a variable that nobody told leaves it open. */
        public List<Verdict> verdictsUnless(List<Need> open, List<Finding> findings, boolean hidden) {
            return findings.isEmpty() && !open.isEmpty() ? List.of(unknown(open)) : verdicts(findings, hidden);
        }

        /** Returns what keeps from telling in which stores these steps work. */
        public List<Need> openStores(Predicate<DeploymentStep> steps) {
            return deployments().stream()
                    .flatMap(each -> each.openStores(pipeline, steps).stream())
                    .distinct()
                    .toList();
        }

        /** Returns the findings; without any, that nothing is wrong, or that a step which is not understood could hide it. */
        public List<Verdict> verdicts(List<Finding> findings, boolean hidden) {
            if (!findings.isEmpty()) {
                return findings.stream().<Verdict>map(Verdict.Flagged::new).toList();
            }
            List<DeploymentStep> unclear = hidden ? pipeline.notUnderstood() : List.of();
            return List.of(
                    unclear.isEmpty()
                            ? clean()
                            : unknown("a step is not understood: " + pipeline.place(unclear.get(0)) + ", "
                                    + ((Operation.NotUnderstood) unclear.get(0).operation()).why()));
        }
    }

    /** Returns the pipelines that can be judged; those whose grammar is broken only where the text alone matters. */
    @Override
    default List<Subject> subjects(AuditContext context) {
        return readsTextOnly()
                ? context.once(Pipeline.class, () -> list(context, pipeline -> true))
                : understood(context);
    }

    private static List<Subject> list(AuditContext context, Predicate<Pipeline> judged) {
        return context.pipelines().stream()
                .filter(judged)
                .map(pipeline -> subject(context, pipeline))
                .toList();
    }

    private static Subject subject(AuditContext context, Pipeline pipeline) {
        return new Subject(context, pipeline, context.sitesOf(pipeline));
    }

    /** Returns the pipelines that can be judged by what their steps do. */
    static List<Subject> understood(AuditContext context) {
        return context.once(
                PipelineCheck.class,
                () -> list(context, pipeline -> pipeline.problem().isEmpty()));
    }

    /** Returns open verdicts for the pipelines that could not be read, those of the clouds' accounts among them. */
    static List<Verdict> open(AuditContext context) {
        List<Verdict> open = new ArrayList<>();
        context.pipelines().forEach(pipeline -> pipeline.problem()
                .ifPresent(problem -> open.add(
                        subject(context, pipeline).unknown("line " + problem.line() + ": " + problem.says()))));
        open.addAll(unreadTexts(context));
        return open;
    }

    private static List<Verdict> unreadTexts(AuditContext context) {
        return context.deployments().stream()
                .flatMap(each -> each.unread().stream())
                .<Verdict>map(unread ->
                        new Verdict.Unknown(unread.need().of(), unread.site().map(Site::name), List.of(unread.need())))
                .toList();
    }

    @Override
    default List<Verdict> unread(AuditContext context) {
        return readsTextOnly() ? unreadTexts(context) : open(context);
    }

    /** True for checks that look at the text as it is, so that its grammar does not matter. */
    default boolean readsTextOnly() {
        return false;
    }
}
