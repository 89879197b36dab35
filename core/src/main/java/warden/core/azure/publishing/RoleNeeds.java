package warden.core.azure.publishing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.azure.access.Actions;
import warden.core.azure.account.Container;
import warden.core.azure.edge.Edge;
import warden.core.azure.publishing.AzureDeployments.StepOf;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.site.WebSite;
import warden.core.pipeline.Needed;
import warden.core.pipeline.Needed.Evidence;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

/**
 * What a principal needs to publish, from what its pipelines do; without one that publishes, from the pattern of its sites.
 *
 * <p>Source: Storage documentation, "Authorize access to blobs using Microsoft Entra ID", "Choose how to authorize access to blob data with
 * Azure CLI"; Azure CDN and Front Door REST API, "Purge Content".
 *
 * @param needed each action and resource once: a container's id for blobs, an endpoint's to purge
 * @param open the steps that may need more, or that do something beside publishing
 */
public record RoleNeeds(List<Needed> needed, List<Open> open) {
    public RoleNeeds {
        needed = List.copyOf(needed);
        open = List.copyOf(open);
    }

    /** A step that may need more, and why that is not known. */
    public record Open(StepOf of, String why) {}

    /** Works out what a publisher needs. */
    public static RoleNeeds of(AzurePublisher publisher, AzureDeployments deployments) {
        Collector collector = new Collector(deployments);
        List<StepOf> steps = deployments.stepsOf(publisher.principal());
        steps.forEach(collector::step);
        if (steps.stream().noneMatch(each -> each.step().publishes())) {
            publisher.sites().forEach(collector::pattern);
        }
        return new RoleNeeds(List.copyOf(collector.needed.values()), collector.open);
    }

    /**
     * Works out what a publisher needs as its pipelines are today: what they do with a key that they fetch takes no rights on blobs. From the
     * pattern of its sites no purge of an edge that keeps nothing.
     */
    public static RoleNeeds today(AzurePublisher publisher, AzureDeployments deployments) {
        Collector collector = new Collector(deployments);
        List<StepOf> steps = deployments.stepsOf(publisher.principal());
        steps.stream()
                .filter(each -> each.step()
                        .credential()
                        .filter(use -> use.kind().isPrincipal())
                        .isPresent())
                .forEach(collector::step);
        if (steps.stream().noneMatch(each -> each.step().publishes())) {
            publisher.sites().forEach(collector::least);
        }
        return new RoleNeeds(List.copyOf(collector.needed.values()), collector.open);
    }

    /** Gathers permissions, the first reason for each. */
    private static final class Collector {
        private final AzureDeployments deployments;
        private final Map<String, Needed> needed = new LinkedHashMap<>();
        private final List<Open> open = new ArrayList<>();

        Collector(AzureDeployments deployments) {
            this.deployments = deployments;
        }

        private void add(String action, String on, String why, Evidence evidence) {
            needed.putIfAbsent(action + " " + on.toLowerCase(Locale.ROOT), new Needed(action, on, why, evidence));
        }

        /** To compare, put and delete the blobs, and to purge the edges that surely keep them. */
        void least(WebSite site) {
            Container web = site.container().orElseThrow();
            for (String action : List.of(Actions.READ, Actions.WRITE, Actions.DELETE)) {
                add(action, web.id(), "the site " + site.name() + " is published to it", Evidence.PATTERN);
            }
            site.edges().stream()
                    .filter(Edge::keepsPages)
                    .forEach(edge -> add(
                            purge(edge),
                            edge.id(),
                            "the edge in front of " + site.name() + " keeps its pages",
                            Evidence.PATTERN));
        }

        /** To compare, put and delete the blobs, and to purge the edges. */
        void pattern(WebSite site) {
            Container web = site.container().orElseThrow();
            for (String action : List.of(Actions.READ, Actions.WRITE, Actions.DELETE)) {
                add(action, web.id(), "the site " + site.name() + " is published to it", Evidence.PATTERN);
            }
            for (Edge edge : site.edges()) {
                add(
                        purge(edge),
                        edge.id(),
                        "the edge in front of " + site.name() + " keeps its pages",
                        Evidence.PATTERN);
            }
        }

        void step(StepOf of) {
            Operation operation = of.step().operation();
            if (operation instanceof Operation.NotUnderstood unclear) {
                open.add(new Open(of, unclear.why()));
            } else if (operation instanceof Operation.Upload upload) {
                container(of, upload.target()).ifPresent(container -> {
                    if (upload.lists()) {
                        data(of, Actions.READ, container, "compares with what is there");
                    }
                    data(of, Actions.WRITE, container, "uploads");
                    if (upload.deletes()) {
                        data(of, Actions.DELETE, container, "deletes what is gone");
                    }
                });
            } else if (operation instanceof Operation.Remove removal) {
                container(of, removal.target()).ifPresent(container -> {
                    if (removal.many()) {
                        data(of, Actions.READ, container, "lists what to delete");
                    }
                    data(of, Actions.DELETE, container, "deletes");
                });
            } else if (operation instanceof Operation.Fetch fetch) {
                container(of, fetch.from()).ifPresent(container -> {
                    data(of, Actions.READ, container, "reads");
                    if (fetch.moves()) {
                        data(of, Actions.DELETE, container, "moves away");
                    }
                });
                fetch.to()
                        .flatMap(to -> container(of, to))
                        .ifPresent(container -> data(of, Actions.WRITE, container, "copies to it"));
            } else if (operation instanceof Operation.Invalidate invalidation) {
                invalidate(of, invalidation.distribution());
            } else if (operation instanceof Operation.Call call) {
                call(of, call);
            } else if (operation instanceof Operation.KeepState state) {
                container(of, state.target()).ifPresent(container -> {
                    data(of, Actions.READ, container, "keeps its state there");
                    data(of, Actions.WRITE, container, "keeps its state there");
                });
            }
        }

        private void data(StepOf of, String action, Container container, String does) {
            add(action, container.id(), "pipeline " + of.pipeline().place(of.step()) + " " + does, Evidence.PIPELINE);
        }

        private Optional<Container> container(StepOf of, Target target) {
            Optional<Container> container = deployments.containerOf(of.pipeline(), target);
            if (container.isEmpty()) {
                boolean isKnown = target.account().isKnown() && target.bucket().isKnown();
                open.add(new Open(
                        of,
                        isKnown
                                ? "no surveyed subscription shows " + target.spelled()
                                : "which container is meant is known only to the running pipeline; --set tells it"));
            }
            return container;
        }

        private void invalidate(StepOf of, PipelineValue endpoint) {
            List<Edge> edges = deployments.edgesOf(of.pipeline(), endpoint);
            edges.forEach(edge -> add(
                    purge(edge),
                    edge.id(),
                    "pipeline " + of.pipeline().place(of.step()) + " purges it",
                    Evidence.PIPELINE));
            if (edges.isEmpty()) {
                open.add(new Open(
                        of,
                        endpoint.isKnown()
                                ? "no surveyed subscription shows the endpoint " + endpoint
                                : "which endpoint is meant is known only to the running pipeline; --set tells it"));
            }
        }

        private void call(StepOf of, Operation.Call call) {
            if (call.action().equals(Actions.LIST_KEYS)) {
                open.add(new Open(
                        of,
                        "it fetches the account's key, which is good for everything in the account; with --auth-mode"
                                + " login it takes what is proposed, and nothing of the account"));
            } else if (ActionPattern.isData(call.action())) {
                container(of, Target.inAccount(call.on()))
                        .ifPresent(container -> data(of, call.action(), container, "asks for it"));
            } else if (!(call.action().equals(Actions.ACCOUNT_READ)
                    && call.on().text().equals("subscription"))) {
                open.add(new Open(
                        of, "it takes " + call.action() + ", which is no part of publishing and is not proposed"));
            }
        }
    }

    /** Returns the action that purging an edge takes. */
    public static String purge(Edge edge) {
        return edge.isFrontDoor() ? Actions.PURGE_FRONT_DOOR : Actions.PURGE_CLASSIC;
    }
}
