package warden.core.aws.audit;

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
import warden.core.pipeline.Pipeline;
import warden.core.survey.Need;

/** A check that asks of every pipeline what only this provider can tell. A pipeline that could not be read leaves the question open. */
public interface PipelineCheck extends AwsCheck<PipelineCheck.Subject> {
    /** One pipeline and what it publishes here. */
    record Subject(AwsContext context, warden.core.checks.pipeline.PipelineCheck.Subject asked, List<BucketSite> sites)
            implements Judged {
        public Subject {
            sites = List.copyOf(sites);
        }

        public Pipeline pipeline() {
            return asked.pipeline();
        }

        public Deployments deployments() {
            return context.deployments();
        }

        /** Returns the steps that may work with this provider's tools. */
        public List<DeploymentStep> steps() {
            return pipeline().steps().stream()
                    .filter(step -> step.mayBeOf(deployments().provider()))
                    .toList();
        }

        /** Returns the name of its site; absent when it publishes none, or several. */
        public Optional<String> site() {
            return asked.site();
        }

        /** Returns the verdict that nothing is wrong. */
        public Verdict clean() {
            return asked.clean();
        }

        /** Returns a finding about a step. */
        public Finding finding(CheckCard card, DeploymentStep step, String says) {
            return asked.finding(card, step, says);
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return asked.unknown(needs);
        }

        /** As {@link #verdicts}, where the answer rests on what these needs would tell: a variable that nobody told leaves it open. */
        public List<Verdict> verdictsUnless(List<Need> open, List<Finding> findings, boolean hidden) {
            return asked.verdictsUnless(open, findings, hidden);
        }

        /** Returns what keeps from telling in which buckets these steps work. */
        public List<Need> openBuckets(Predicate<DeploymentStep> steps) {
            return deployments().openBuckets(pipeline(), steps);
        }

        /** Returns the findings; without any, that nothing is wrong, or that a step which is not understood could hide it. */
        public List<Verdict> verdicts(List<Finding> findings, boolean hidden) {
            return asked.verdicts(findings, hidden);
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(PipelineCheck.class, () -> context.pipelines().stream()
                .filter(asked -> context.deployments().concerns(asked.pipeline()))
                .map(asked -> new Subject(context, asked, context.deployments().sitesOf(asked.pipeline())))
                .toList());
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return context.unreadPipelines();
    }
}
