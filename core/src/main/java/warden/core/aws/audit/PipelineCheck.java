package warden.core.aws.audit;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.site.BucketSite;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/** A check that asks its question of every pipeline. A pipeline that could not be read leaves the question open. */
public interface PipelineCheck extends AwsCheck<PipelineCheck.Subject> {
    /** One pipeline and what it publishes. */
    record Subject(AwsContext context, Pipeline pipeline, List<BucketSite> sites) implements Judged {
        public Subject {
            sites = List.copyOf(sites);
        }

        public Deployments deployments() {
            return context.deployments();
        }

        /** Returns the name of its site; absent when it publishes none, or several. */
        public Optional<String> site() {
            return sites.stream().findFirst().map(BucketSite::name);
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

        /** Returns what keeps from telling in which buckets these steps work. */
        public List<Need> openBuckets(Predicate<DeploymentStep> steps) {
            return deployments().openBuckets(pipeline, steps);
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
    default List<Subject> subjects(AwsContext context) {
        return readsTextOnly()
                ? context.subjects(Pipeline.class, () -> list(context, pipeline -> true))
                : context.subjects(
                        PipelineCheck.class,
                        () -> list(context, pipeline -> pipeline.problem().isEmpty()));
    }

    private static List<Subject> list(AwsContext context, Predicate<Pipeline> judged) {
        return context.deployments().pipelines().stream()
                .filter(judged)
                .map(pipeline -> subject(context, pipeline))
                .toList();
    }

    private static Subject subject(AwsContext context, Pipeline pipeline) {
        return new Subject(context, pipeline, context.deployments().sitesOf(pipeline));
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        List<Verdict> open = new ArrayList<>();
        if (!readsTextOnly()) {
            context.deployments().pipelines().forEach(pipeline -> pipeline.problem()
                    .ifPresent(problem -> open.add(
                            subject(context, pipeline).unknown("line " + problem.line() + ": " + problem.says()))));
        }
        context.deployments()
                .unread()
                .forEach(unread -> open.add(new Verdict.Unknown(
                        unread.need().of(), unread.site().map(BucketSite::name), List.of(unread.need()))));
        return open;
    }

    /** True for checks that look at the text as it is, so that its grammar does not matter. */
    default boolean readsTextOnly() {
        return false;
    }
}
