package warden.core.check;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Deployments;
import warden.core.pipeline.Doing;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;
import warden.core.survey.Need;

/** A check that asks its question of every pipeline. A pipeline that could not be read leaves the question open. */
public interface PipelineCheck extends Check {
    /** One pipeline and what it publishes. */
    record Subject(Setup setup, Pipeline pipeline, List<Site> sites) {
        public Subject {
            sites = List.copyOf(sites);
        }

        public Deployments deployments() {
            return setup.deployments();
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

        /** Returns the verdict that it cannot be told. */
        public Verdict unknown(String why) {
            String aspect = pipeline.kind() == Pipeline.Kind.DELIVERY_PIPELINE ? "delivery-pipeline" : "pipeline-file";
            return new Verdict.Unknown(
                    pipeline.subject(), site(), List.of(new Need(aspect, pipeline.subject(), why, "")));
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
                                    + ((Doing.NotUnderstood) unclear.get(0).doing()).why()));
        }
    }

    /** Returns the verdicts on one pipeline; none where the question does not apply. */
    List<Verdict> examine(Subject subject);

    @Override
    default List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Pipeline pipeline : setup.deployments().pipelines()) {
            Subject subject = new Subject(setup, pipeline, setup.deployments().sitesOf(pipeline));
            if (pipeline.problem().isPresent() && !readsTextOnly()) {
                Pipeline.Problem problem = pipeline.problem().get();
                verdicts.add(subject.unknown("line " + problem.line() + ": " + problem.says()));
            } else {
                verdicts.addAll(examine(subject));
            }
        }
        setup.deployments()
                .unread()
                .forEach(unread -> verdicts.add(new Verdict.Unknown(
                        unread.need().of(), unread.site().map(Site::name), List.of(unread.need()))));
        return verdicts;
    }

    /** True for checks that look at the text as it is, so that its grammar does not matter. */
    default boolean readsTextOnly() {
        return false;
    }
}
