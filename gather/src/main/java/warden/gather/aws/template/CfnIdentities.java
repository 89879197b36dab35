package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.survey.Place;
import warden.gather.aws.template.Holdings.Holder;
import warden.gather.aws.template.Holdings.Kind;

/**
 * The users, groups and roles of a template, with the policies that other resources attach to them. Source: CloudFormation User Guide, the resource
 * types of IAM; IAM API Reference, "GetAccountAuthorizationDetails".
 */
final class CfnIdentities {
    private final Description all;
    private final List<CfnResource> additions = new ArrayList<>();
    private final List<CfnResource> keys = new ArrayList<>();
    private final Map<Holder, List<Attachment>> attachments = new HashMap<>();
    /** Those that this template makes. */
    private final Set<Holder> made = new LinkedHashSet<>();
    /** A policy that a resource of its own gives to somebody. */
    private record Attachment(
            boolean isInline, String name, @Nullable Object document, String arn, Place place) {}

    /** The kinds of holders of which anyone may hold a policy, since to whom it is attached is not told. */
    private final Set<Kind> openHolders = new LinkedHashSet<>();
    /** Who holds a policy if that is made. */
    private final Set<Holder> maybeHolders = new LinkedHashSet<>();

    CfnIdentities(Description all) {
        this.all = all;
    }

    /** Says that any of those that the template makes may hold a policy of which nothing is told. */
    void attachToAnybody() {
        openHolders.addAll(HOLDERS.values());
    }

    private void reading(String aspect, String of, CfnResource each, Function<Fields, Object> document) {
        all.found(aspect, of, each.place(), () -> document.apply(each.told()));
    }

    /** Notes to whom a policy is attached, who is put into a group, and who gets a key. */
    void attach(CfnResource each) {
        if (each.type().equals("AWS::IAM::UserToGroupAddition")) {
            additions.add(each);
        } else if (each.type().equals("AWS::IAM::AccessKey")) {
            keys.add(each);
        }
        Attachment attachment =
                switch (each.type()) {
                    case "AWS::IAM::Policy", "AWS::IAM::RolePolicy", "AWS::IAM::UserPolicy", "AWS::IAM::GroupPolicy" ->
                        new Attachment(
                                true,
                                each.name("PolicyName"),
                                each.named().isUnknown()
                                        ? each.named().raw()
                                        : each.named().at("PolicyDocument").raw(),
                                "",
                                each.place());
                    case "AWS::IAM::ManagedPolicy" ->
                        new Attachment(false, policyName(each), null, policyArn(each), each.place());
                    default -> null;
                };
        if (attachment == null) {
            return;
        }
        if (each.named().isUnknown()) {
            openHolders.addAll(HOLDERS.values());
            openHolders.forEach(kind -> all.holdings().leaveAllOpen(kind, each.place()));
            return;
        }
        HOLDERS.forEach((member, kind) -> {
            for (Object holder : values(each.named().at(member).raw())) {
                if (holder instanceof Unknown open && open.isNamelessOf(each.id())) {
                    openHolders.add(kind);
                    all.holdings().leaveAllOpen(kind, each.place());
                    continue;
                }
                Holder who = new Holder(kind, new Fields(holder).name().orElse(""));
                attachments.computeIfAbsent(who, key -> new ArrayList<>()).add(attachment);
                if (each.properties().isUnknown()) {
                    maybeHolders.add(who);
                }
            }
        });
    }

    /** The properties that say who holds a policy. */
    private static final Map<String, Kind> HOLDERS = Map.of(
            "Roles", Kind.ROLE,
            "RoleName", Kind.ROLE,
            "Users", Kind.USER,
            "UserName", Kind.USER,
            "Groups", Kind.GROUP,
            "GroupName", Kind.GROUP);

    /** Gives what is attached to those whom the template does not make; asked when all that it makes were told. */
    void giveToOthers() {
        attachments.forEach((holder, policies) -> {
            if (made.contains(holder)) {
                return;
            }
            Kind kind = holder.kind();
            String name = holder.name();
            for (Attachment each : policies) {
                if (maybeHolders.contains(holder)) {
                    all.holdings()
                            .leaveOpen(
                                    kind,
                                    name,
                                    each.place(),
                                    "whether a policy is attached to it, which hangs on a condition");
                } else if (each.isInline()) {
                    all.holdings()
                            .give(kind, name, each.place(), each.name(), () -> new Fields(each.document()).policy());
                } else {
                    all.holdings().attach(kind, name, each.place(), each.arn());
                }
            }
        });
        for (CfnResource key : keys) {
            String user = key.name("UserName");
            if (!made.contains(new Holder(Kind.USER, user))) {
                all.holdings().addKey(user, key.place());
            }
        }
        additions.forEach(this::addOthers);
    }

    private void addOthers(CfnResource addition) {
        if (isOpen(addition.named())) {
            all.holdings().leaveAllOpen(Kind.USER, addition.place());
            return;
        }
        for (String user : addition.named().names("Users")) {
            if (made.contains(new Holder(Kind.USER, user))) {
                continue;
            }
            if (addition.properties().isUnknown()) {
                all.holdings().leaveOpen(Kind.USER, user, addition.place(), WHETHER_ADDED);
            } else {
                addition.named().name("GroupName").ifPresent(group -> all.holdings()
                        .join(user, addition.place(), group));
            }
        }
    }

    private static final String WHETHER_ADDED = "whether the user is added to a group, which hangs on a condition";

    private static boolean isOpen(Fields of) {
        return of.isUnknown()
                || of.at("GroupName").isUnknown()
                || values(of.at("Users").raw()).stream().anyMatch(Unknown.class::isInstance);
    }

    private static List<?> values(@Nullable Object value) {
        return value instanceof List<?> list ? list : value == null ? List.of() : List.of(value);
    }

    static String policyName(CfnResource each) {
        return each.name("ManagedPolicyName");
    }

    String policyArn(CfnResource each) {
        return all.policy(path(each), policyName(each));
    }

    void role(CfnResource each) {
        String name = each.name("RoleName");
        Holder who = new Holder(Kind.ROLE, name);
        made.add(who);
        String path = path(each);
        String arn = all.role(path, name);
        reading("iam-role", arn, each, of -> {
            Map<String, Object> role = Json.object("Path", path, "RoleName", name, "Arn", arn);
            role.put(
                    "AssumeRolePolicyDocument",
                    of.at("AssumeRolePolicyDocument").policy());
            holdings(role, of, who);
            return role;
        });
    }

    private static String path(CfnResource each) {
        return each.named().isUnknown() ? "/" : each.named().name("Path").orElse("/");
    }

    private void holdings(Map<String, Object> who, Fields of, Holder holder) {
        if (openHolders.contains(holder.kind())) {
            throw new NotTold("to whom a policy is attached");
        }
        if (maybeHolders.contains(holder)) {
            throw new NotTold("whether a policy is attached to it, which hangs on a condition");
        }
        if (all.isGivenAway(holder.name())) {
            throw new NotTold("what a stack or module that was not read attaches to it");
        }
        List<Object> inline = new ArrayList<>();
        List<Object> managed = new ArrayList<>();
        for (Fields policy : of.items("Policies")) {
            inline.add(Json.object(
                    "PolicyName",
                    policy.name("PolicyName").orElse(""),
                    "PolicyDocument",
                    policy.at("PolicyDocument").policy()));
        }
        for (String arn : of.names("ManagedPolicyArns")) {
            managed.add(Holdings.attached(arn));
        }
        for (Attachment each : attachments.getOrDefault(holder, List.of())) {
            if (each.isInline()) {
                inline.add(
                        Json.object("PolicyName", each.name(), "PolicyDocument", new Fields(each.document()).policy()));
            } else {
                managed.add(Json.object("PolicyName", each.name(), "PolicyArn", each.arn()));
            }
        }
        who.put(holder.kind().inlineMember(), inline);
        who.put("AttachedManagedPolicies", managed);
        of.name("PermissionsBoundary")
                .ifPresent(arn -> who.put(
                        "PermissionsBoundary",
                        Json.object("PermissionsBoundaryType", "Policy", "PermissionsBoundaryArn", arn)));
        if (of.at("Tags").isThere()) {
            who.put("Tags", of.at("Tags").told());
        }
    }

    void user(CfnResource each) {
        String name = each.name("UserName");
        Holder who = new Holder(Kind.USER, name);
        made.add(who);
        String path = path(each);
        String arn = all.user(path, name);
        reading("iam-user", arn, each, of -> {
            Map<String, Object> user = Json.object("Path", path, "UserName", name, "Arn", arn);
            holdings(user, of, who);
            List<String> groups = new ArrayList<>(of.names("Groups"));
            groups.addAll(groupsOf(name));
            user.put("GroupList", groups);
            return user;
        });
        if (!each.properties().isUnknown()) {
            if (each.properties().at("LoginProfile").isThere()) {
                all.found(
                        "iam-login",
                        arn,
                        each.place(),
                        () -> Json.object("LoginProfile", Json.object("UserName", name)));
            } else {
                all.absent("iam-login", arn, each.place(), "NoSuchEntity");
            }
            boolean hasKey = keys.stream().anyMatch(key -> isOrMayBe(key.named(), "UserName", name));
            if (hasKey) {
                all.unread("iam-user-keys", arn, each.place(), "the key that is made for the user");
            } else {
                all.found("iam-user-keys", arn, each.place(), () -> Json.object("AccessKeyMetadata", List.of()));
            }
        }
    }

    private static boolean isOrMayBe(Fields of, String member, String name) {
        return of.isUnknown()
                || of.at(member).isUnknown()
                || of.name(member).filter(name::equals).isPresent();
    }

    private List<String> groupsOf(String user) {
        List<String> groups = new ArrayList<>();
        for (CfnResource addition : additions) {
            if (isOpen(addition.named())) {
                throw new NotTold("who is added to a group");
            }
            if (addition.named().names("Users").contains(user)) {
                if (addition.properties().isUnknown()) {
                    throw new NotTold(WHETHER_ADDED);
                }
                addition.named().name("GroupName").ifPresent(groups::add);
            }
        }
        return groups;
    }

    void group(CfnResource each) {
        String name = each.name("GroupName");
        Holder who = new Holder(Kind.GROUP, name);
        made.add(who);
        String path = path(each);
        String arn = all.group(path, name);
        reading("iam-group", arn, each, of -> {
            Map<String, Object> group = Json.object("Path", path, "GroupName", name, "Arn", arn);
            holdings(group, of, who);
            return group;
        });
    }
}
