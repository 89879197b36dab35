package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.gather.aws.template.Holdings.Holder;
import warden.gather.aws.template.Holdings.Kind;

/**
 * The users, groups and roles of a plan, a state or a source, with what other resources attach to them. Source: the tool's documentation of each
 * resource; IAM API Reference, "GetAccountAuthorizationDetails".
 */
final class TfIdentities {
    private final Description all;
    private final Map<String, List<TfResource>> byType;
    private final Map<String, Map<String, List<TfResource>>> byName = new HashMap<>();
    /** Those that are described. */
    private final Set<Holder> made = new LinkedHashSet<>();

    private final Map<String, Boolean> openAttachments = new HashMap<>();

    /**
     * Makes ready.
     *
     * @param byType all resources
     */
    TfIdentities(Description all, Map<String, List<TfResource>> byType) {
        this.all = all;
        this.byType = byType;
    }

    private void reading(String aspect, String of, TfResource each, Function<Fields, Object> document) {
        all.found(aspect, of, each.place(), () -> document.apply(each.values()));
    }

    /** Returns the resources of a type of which an attribute names this. */
    private List<TfResource> of(String type, String attribute, String name) {
        return byName.computeIfAbsent(type + " " + attribute, key -> {
                    Map<String, List<TfResource>> named = new HashMap<>();
                    for (TfResource each : kept(type)) {
                        new LinkedHashSet<>(names(each.values().at(attribute).raw()))
                                .forEach(one -> named.computeIfAbsent(one, of -> new ArrayList<>())
                                        .add(each));
                    }
                    return named;
                })
                .getOrDefault(name, List.of());
    }

    private List<TfResource> kept(String type) {
        return byType.getOrDefault(type, List.of()).stream()
                .filter(each -> each.change() != TfResource.Change.DELETED)
                .toList();
    }

    private static List<String> names(@Nullable Object raw) {
        if (raw instanceof List<?> list) {
            return list.stream().flatMap(each -> names(each).stream()).toList();
        }
        String text = raw instanceof Partly partly ? partly.text() : raw instanceof String whole ? whole : "";
        return text.isEmpty() ? List.of() : List.of(text.substring(text.lastIndexOf('/') + 1));
    }

    /** Something that is attached to somebody whose name is not told may be attached to anybody. */
    private void demandTold(String type, String attribute) {
        if (isOpen(type, attribute)) {
            throw new NotTold("to whom a policy is attached, or who is in a group");
        }
    }

    private boolean isOpen(String type, String attribute) {
        return openAttachments.computeIfAbsent(type + " " + attribute, key -> kept(type).stream()
                .map(each -> each.values().at(attribute).raw())
                .anyMatch(TfIdentities::isOpen));
    }

    private static boolean isOpen(@Nullable Object raw) {
        return raw instanceof Unknown
                || raw instanceof List<?> list && list.stream().anyMatch(Unknown.class::isInstance);
    }

    private void holdings(Map<String, Object> who, Kind holder, String name, Fields of) {
        String kind = holder.word();
        demandTold("aws_iam_" + kind + "_policy", kind);
        demandTold("aws_iam_" + kind + "_policy_attachment", kind);
        demandTold("aws_iam_policy_attachment", kind + "s");
        if (all.isGivenAway(name)) {
            throw new NotTold("what a module that was not read attaches to it");
        }
        List<Object> inline = new ArrayList<>();
        // A plan leaves open what a new role's block would hold if it had one.
        boolean hasInline = !of.at("inline_policy").isUnknown();
        for (Fields policy : hasInline ? of.items("inline_policy") : List.<Fields>of()) {
            if (policy.text("name").filter(text -> !text.isEmpty()).isPresent()) {
                inline.add(Json.object(
                        "PolicyName", policy.text("name").get(), "PolicyDocument", HclPolicy.told(policy, "policy")));
            }
        }
        for (TfResource each : of("aws_iam_" + kind + "_policy", kind, name)) {
            inline.add(Json.object(
                    "PolicyName", each.name("name"), "PolicyDocument", HclPolicy.told(each.values(), "policy")));
        }
        Set<String> managed = new LinkedHashSet<>();
        if (!of.at("managed_policy_arns").isUnknown()) {
            managed.addAll(of.names("managed_policy_arns"));
        }
        of("aws_iam_" + kind + "_policy_attachment", kind, name)
                .forEach(each -> managed.add(each.values().name("policy_arn").orElse("")));
        of("aws_iam_policy_attachment", kind + "s", name)
                .forEach(each -> managed.add(each.values().name("policy_arn").orElse("")));
        who.put(holder.inlineMember(), inline);
        who.put(
                "AttachedManagedPolicies",
                managed.stream().map(Holdings::attached).toList());
        of.name("permissions_boundary")
                .filter(arn -> !arn.isEmpty())
                .ifPresent(arn -> who.put(
                        "PermissionsBoundary",
                        Json.object("PermissionsBoundaryType", "Policy", "PermissionsBoundaryArn", arn)));
        List<Object> tags = new ArrayList<>();
        if (of.at("tags").isThere() && !of.at("tags").isUnknown()) {
            of.at("tags").members().forEach((key, value) -> value.name()
                    .ifPresent(text -> tags.add(Json.object("Key", key, "Value", text))));
        }
        who.put("Tags", tags);
    }

    /** Gives to those who are not described, and takes from them, what other resources attach to them; asked when all were told. */
    void giveToOthers() {
        for (Kind kind : Kind.values()) {
            String word = kind.word();
            others("aws_iam_" + word + "_policy", kind, word, (name, each) -> {
                if (isGone(each)) {
                    all.holdings().take(kind, name, each.place(), each.name("name"));
                } else {
                    all.holdings()
                            .give(
                                    kind,
                                    name,
                                    each.place(),
                                    each.name("name"),
                                    () -> HclPolicy.told(each.values(), "policy"));
                }
            });
            others("aws_iam_" + word + "_policy_attachment", kind, word, (name, each) -> attached(kind, name, each));
            others("aws_iam_policy_attachment", kind, word + "s", (name, each) -> attached(kind, name, each));
        }
        others("aws_iam_user_group_membership", Kind.USER, "user", (name, each) -> each.values()
                .names("groups")
                .forEach(group -> joined(name, each, group)));
        others("aws_iam_group_membership", Kind.USER, "users", (name, each) -> joined(name, each, each.name("group")));
        made("aws_iam_access_key", (name, each) -> all.holdings().addKey(name, each.place()));
        made("aws_iam_user_login_profile", (name, each) -> all.holdings().addPassword(name, each.place()));
    }

    /** What is made for a user who is not described; a placeholder stands for one of whom nothing is told. */
    private void made(String type, BiConsumer<String, TfResource> work) {
        for (TfResource each : byType.getOrDefault(type, List.of())) {
            if (each.isCreated()) {
                String name = each.name("user");
                if (!made.contains(new Holder(Kind.USER, name))) {
                    work.accept(name, each);
                }
            }
        }
    }

    private static boolean isGone(TfResource each) {
        return each.change() == TfResource.Change.DELETED;
    }

    private void attached(Kind kind, String name, TfResource each) {
        String arn = each.name("policy_arn");
        if (isGone(each)) {
            all.holdings().detach(kind, name, each.place(), arn);
        } else {
            all.holdings().attach(kind, name, each.place(), arn);
        }
    }

    private void joined(String user, TfResource each, String group) {
        if (isGone(each)) {
            all.holdings().leave(user, each.place(), group);
        } else {
            all.holdings().join(user, each.place(), group);
        }
    }

    private void others(String type, Kind kind, String attribute, BiConsumer<String, TfResource> work) {
        for (TfResource each : byType.getOrDefault(type, List.of())) {
            Object raw = each.values().isUnknown()
                    ? each.values().raw()
                    : each.values().at(attribute).raw();
            if (isOpen(raw)) {
                all.holdings().leaveAllOpen(kind, each.place());
            }
            for (String name : names(raw)) {
                if (!made.contains(new Holder(kind, name))) {
                    work.accept(name, each);
                }
            }
        }
    }

    void role(TfResource each) {
        String name = each.name("name");
        made.add(new Holder(Kind.ROLE, name));
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.role(each.path(), name);
        reading("iam-role", arn, each, of -> {
            Map<String, Object> role = Json.object("Path", each.path(), "RoleName", name, "Arn", arn);
            role.put("AssumeRolePolicyDocument", HclPolicy.told(of, "assume_role_policy"));
            holdings(role, Kind.ROLE, name, of);
            return role;
        });
    }

    void user(TfResource each) {
        String name = each.name("name");
        made.add(new Holder(Kind.USER, name));
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.user(each.path(), name);
        reading("iam-user", arn, each, of -> {
            Map<String, Object> user = Json.object("Path", each.path(), "UserName", name, "Arn", arn);
            holdings(user, Kind.USER, name, of);
            demandTold("aws_iam_user_group_membership", "user");
            demandTold("aws_iam_group_membership", "users");
            Set<String> groups = new LinkedHashSet<>();
            of("aws_iam_user_group_membership", "user", name)
                    .forEach(one -> groups.addAll(one.values().names("groups")));
            of("aws_iam_group_membership", "users", name)
                    .forEach(one -> one.values().name("group").ifPresent(groups::add));
            user.put("GroupList", List.copyOf(groups));
            return user;
        });
        if (!each.isCreated()) {
            return;
        }
        boolean hasKey = isOpen("aws_iam_access_key", "user")
                || !of("aws_iam_access_key", "user", name).isEmpty();
        if (!hasKey) {
            all.found("iam-user-keys", arn, each.place(), () -> Json.object("AccessKeyMetadata", List.of()));
        } else {
            all.unread("iam-user-keys", arn, each.place(), "the key that is made for the user");
        }
        if (isOpen("aws_iam_user_login_profile", "user")) {
            all.unread("iam-login", arn, each.place(), "of which user a password is");
        } else if (of("aws_iam_user_login_profile", "user", name).isEmpty()) {
            all.absent("iam-login", arn, each.place(), "NoSuchEntity");
        } else {
            all.found("iam-login", arn, each.place(), () -> Json.object("LoginProfile", Json.object("UserName", name)));
        }
    }

    void group(TfResource each) {
        String name = each.name("name");
        made.add(new Holder(Kind.GROUP, name));
        String arn = each.values().at("arn").raw() instanceof String known ? known : all.group(each.path(), name);
        reading("iam-group", arn, each, of -> {
            Map<String, Object> group = Json.object("Path", each.path(), "GroupName", name, "Arn", arn);
            holdings(group, Kind.GROUP, name, of);
            return group;
        });
    }
}
