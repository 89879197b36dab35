package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import warden.core.document.Json;

/**
 * Delivery pipelines and the domains of managed apps as the provider answers, from either language of descriptions. Source: CodePipeline API
 * Reference, "GetPipeline"; Amplify API Reference, "GetDomainAssociation"; CloudFormation's and the other tool's reference of these resources.
 */
final class Delivery {
    private final boolean isTemplate;

    private Delivery(boolean isTemplate) {
        this.isTemplate = isTemplate;
    }

    /** What a template says. */
    static Delivery ofTemplate() {
        return new Delivery(true);
    }

    /** What the other tool's plans, states and sources say. */
    static Delivery ofPlan() {
        return new Delivery(false);
    }

    /** Spells a member as the description does: {@code OutputArtifacts}, or {@code output_artifacts}. */
    private String in(String words) {
        if (!isTemplate) {
            return words.replace(' ', '_');
        }
        StringBuilder spelled = new StringBuilder();
        for (String word : words.split(" ")) {
            spelled.append(word.substring(0, 1).toUpperCase(Locale.ROOT)).append(word.substring(1));
        }
        return spelled.toString();
    }

    Object pipeline(String name, Fields of) {
        Fields store = of.at(in("artifact store"));
        List<Object> stages = new ArrayList<>();
        for (Fields stage : of.items(isTemplate ? "Stages" : "stage")) {
            List<Object> actions = new ArrayList<>();
            stage.items(isTemplate ? "Actions" : "action").forEach(action -> actions.add(action(action)));
            stages.add(Json.object("name", stage.text(in("name")).orElse(""), "actions", actions));
        }
        return Json.object(
                "pipeline",
                Json.object(
                        "name",
                        name,
                        "roleArn",
                        of.name(in("role arn")),
                        "artifactStore",
                        Json.object(
                                "type", store.text(in("type")).orElse("S3"), "location", store.name(in("location"))),
                        "stages",
                        stages));
    }

    private Map<String, Object> action(Fields of) {
        Fields kind = isTemplate ? of.at("ActionTypeId") : of;
        Map<String, Object> configuration = new LinkedHashMap<>();
        of.at(in("configuration"))
                .members()
                .forEach((name, value) -> configuration.put(name, value.name().orElse("")));
        return Json.object(
                "name",
                of.text(in("name")).orElse(""),
                "actionTypeId",
                Json.object(
                        "category",
                        kind.text(in("category")).orElse(""),
                        "owner",
                        kind.text(in("owner")).orElse(""),
                        "provider",
                        kind.text(in("provider")).orElse(""),
                        "version",
                        kind.text(in("version")).orElse("1")),
                "runOrder",
                of.text(in("run order")).map(Shapes::number),
                "configuration",
                configuration,
                "outputArtifacts",
                artifacts(of, "output artifacts"),
                "inputArtifacts",
                artifacts(of, "input artifacts"),
                "roleArn",
                of.name(in("role arn")).filter(role -> !role.isEmpty()));
    }

    private List<Object> artifacts(Fields of, String words) {
        List<String> names = isTemplate
                ? of.items(in(words)).stream()
                        .map(item -> item.text("Name").orElse(""))
                        .toList()
                : of.texts(in(words));
        return names.stream().map(name -> (Object) Json.object("name", name)).toList();
    }

    /**
     * Returns a domain's answer. What leads to the app's own edge is known only after it is made, so that no record is told.
     *
     * @param arn the domain association's
     */
    Object domain(String arn, String domain, Fields of) {
        List<Object> hosts = new ArrayList<>();
        for (Fields each : of.items(isTemplate ? "SubDomainSettings" : "sub_domain")) {
            Optional<String> prefix = each.text("Prefix").or(() -> each.text("prefix"));
            Optional<String> branch = each.name("BranchName").or(() -> each.name("branch_name"));
            hosts.add(Json.object(
                    "subDomainSetting",
                    Json.object("prefix", prefix.orElse(""), "branchName", branch.orElse("")),
                    "verified",
                    false));
        }
        return Json.object(
                "domainAssociation",
                Json.object("domainAssociationArn", arn, "domainName", domain, "subDomains", hosts));
    }
}
