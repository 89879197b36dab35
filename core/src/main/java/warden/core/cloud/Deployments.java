package warden.core.cloud;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;
import warden.core.survey.Need;
import warden.core.survey.SurveyedAccount;

/** Which pipeline publishes which site of one cloud, and where its steps work. */
public interface Deployments {
    /** Returns all pipelines that are known, of whichever provider's sites. */
    List<Pipeline> pipelines();

    /**
     * Returns the sites that a pipeline publishes: those whose store or edge a step names, or for which the site file names it; else those of
     * the credential that it works with; else those whose host or store stands in its text.
     */
    List<? extends Site> sitesOf(Pipeline pipeline);

    /** Returns the word by which steps name the provider of this cloud. */
    String provider();

    /** Returns the store that a step works in; absent for steps that work in none, and where nothing tells which it is. */
    Optional<? extends ObjectStore> storeOf(Pipeline pipeline, DeploymentStep step);

    /** Returns what keeps from telling in which stores some of a pipeline's steps work, or keep their state. */
    List<Need> openStores(Pipeline pipeline, Predicate<DeploymentStep> steps);

    /** Returns the pipelines that could not be read, and those that the site file names and nobody gave. */
    List<UnreadPipeline> unread();

    /**
     * True for pipelines that this cloud has to do with: those that publish one of its sites or work with its provider's tools; and those that
     * say nothing of any provider.
     */
    default boolean concerns(Pipeline pipeline) {
        return pipeline.steps().stream().allMatch(step -> step.provider().isEmpty())
                || pipeline.steps().stream().anyMatch(step -> step.provider().equals(provider()))
                || !sitesOf(pipeline).isEmpty();
    }

    /** A pipeline of which nothing is known, and the site whose site file entry names it, if one does. */
    record UnreadPipeline(Need need, Optional<? extends Site> site) {
        /** Returns those of some accounts and sites. */
        public static List<UnreadPipeline> find(
                List<? extends SurveyedAccount> accounts, List<? extends Site> sites, List<Pipeline> pipelines) {
            List<UnreadPipeline> unread = new ArrayList<>();
            for (SurveyedAccount account : accounts) {
                for (String aspect : List.of("pipeline-file", "delivery-pipeline")) {
                    for (String of : account.survey().subjects(aspect)) {
                        account.survey()
                                .missing(aspect, of)
                                .ifPresent(need -> unread.add(new UnreadPipeline(need, siteNaming(sites, of))));
                    }
                }
            }
            for (Site site : sites) {
                site.stated().stream()
                        .flatMap(each -> each.pipelines().stream())
                        .filter(path -> pipelines.stream().noneMatch(pipeline -> pipeline.isAt(path)))
                        .filter(path -> unread.stream()
                                .noneMatch(each -> Pipeline.isAt(each.need().of(), path)))
                        .forEach(path -> unread.add(new UnreadPipeline(
                                new Need("pipeline-file", path, "the site file names it; give it with --pipeline", ""),
                                Optional.of(site))));
            }
            return unread;
        }

        private static Optional<? extends Site> siteNaming(List<? extends Site> sites, String subject) {
            return sites.stream()
                    .filter(site -> site.stated().stream()
                            .flatMap(each -> each.pipelines().stream())
                            .anyMatch(path -> Pipeline.isAt(subject, path)))
                    .findFirst();
        }
    }
}
