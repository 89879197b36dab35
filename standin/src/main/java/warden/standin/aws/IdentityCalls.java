package warden.standin.aws;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.standin.Refusal;
import warden.standin.XmlText;

/**
 * Reads and changes what users and roles may do, who may work as a role, and access keys, one document at a time. Source: IAM API Reference,
 * the actions named.
 */
final class IdentityCalls {
    private static final String DETAILS = "iam:GetAccountAuthorizationDetails";

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final String account;

    IdentityCalls(CloudState state, Gatekeeper gatekeeper, String account) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.account = account;
    }

    private static final Set<String> KEY_STATES = Set.of("Active", "Inactive");

    /** A user or a role, as the call names it. */
    private record Holder(String arn, String aspect, String kind, JsonPart body) {
        String list() {
            return kind + "PolicyList";
        }
    }

    /** Returns the result of an action, XML; absent for actions that it does not know. */
    Optional<String> answer(Call call, Map<String, String> form) {
        String action = form.getOrDefault("Action", "");
        return Optional.ofNullable(
                switch (action) {
                    case "GetRole" -> role(call, form);
                    case "GetRolePolicy", "GetUserPolicy" -> inline(call, form, action);
                    case "ListAttachedRolePolicies", "ListAttachedUserPolicies" -> attached(call, form, action);
                    case "PutRolePolicy", "PutUserPolicy" -> put(call, form, action);
                    case "DeleteRolePolicy", "DeleteUserPolicy" -> delete(call, form, action);
                    case "AttachRolePolicy", "AttachUserPolicy" -> attach(call, form, action);
                    case "DetachRolePolicy", "DetachUserPolicy" -> detach(call, form, action);
                    case "UpdateAssumeRolePolicy" -> trust(call, form);
                    case "UpdateAccessKey" -> key(call, form);
                    default -> null;
                });
    }

    private Holder holder(Call call, Map<String, String> form, String action) {
        boolean isRole = form.containsKey("RoleName");
        String name = form.getOrDefault(isRole ? "RoleName" : "UserName", "");
        String aspect = isRole ? "iam-role" : "iam-user";
        Optional<String> arn = state.subjects(aspect).stream()
                .filter(of -> of.endsWith("/" + name))
                .findFirst();
        gatekeeper.demand(
                call,
                "iam:" + action,
                arn.orElse("arn:aws:iam::" + account + ":" + (isRole ? "role/" : "user/") + name));
        if (arn.isEmpty()) {
            throw none("The " + (isRole ? "role" : "user") + " with name " + name + " cannot be found.");
        }
        return new Holder(arn.get(), aspect, isRole ? "Role" : "User", StorageApi.document(state, aspect, arn.get()));
    }

    private static Refusal none(String message) {
        return new Refusal(404, "NoSuchEntity", message);
    }

    private void save(Holder holder, String body) {
        state.put(holder.aspect(), holder.arn(), DETAILS, body);
    }

    private static String encoded(JsonPart document) {
        String text = document instanceof JsonPart.JsonText spelled ? spelled.value() : JsonSpelling.of(document);
        return java.net.URLEncoder.encode(text, java.nio.charset.StandardCharsets.UTF_8)
                .replace("+", "%20");
    }

    private String role(Call call, Map<String, String> form) {
        Holder role = holder(call, form, "GetRole");
        return XmlText.elements(xml -> xml.element("Role", told -> {
            for (String member : List.of("Path", "RoleName", "RoleId", "Arn", "CreateDate")) {
                role.body().text(member).ifPresent(text -> told.text(member, text));
            }
            role.body()
                    .find("AssumeRolePolicyDocument")
                    .ifPresent(document -> told.text("AssumeRolePolicyDocument", encoded(document)));
        }));
    }

    private static int index(JsonPart body, String list, String member, String value) {
        List<JsonPart> items = body.list(list);
        for (int i = 0; i < items.size(); i++) {
            if (items.get(i).text(member).filter(value::equals).isPresent()) {
                return i;
            }
        }
        return -1;
    }

    private String inline(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        String name = form.getOrDefault("PolicyName", "");
        int index = index(holder.body(), holder.list(), "PolicyName", name);
        if (index < 0) {
            throw none("The policy with name " + name + " cannot be found.");
        }
        String holderName = form.getOrDefault(holder.kind() + "Name", "");
        JsonPart document = holder.body()
                .list(holder.list())
                .get(index)
                .find("PolicyDocument")
                .orElseThrow();
        return XmlText.elements(xml -> xml.text(holder.kind() + "Name", holderName)
                .text("PolicyName", name)
                .text("PolicyDocument", encoded(document)));
    }

    private String attached(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        return XmlText.elements(xml -> xml.element("AttachedPolicies", list -> holder.body()
                        .list("AttachedManagedPolicies")
                        .forEach(policy -> list.element("member", member -> member.text(
                                        "PolicyName", policy.text("PolicyName").orElse(""))
                                .text("PolicyArn", policy.text("PolicyArn").orElse("")))))
                .text("IsTruncated", false));
    }

    private static String document(Map<String, String> form) {
        return JsonReader.read(form.getOrDefault("PolicyDocument", ""))
                .root()
                .map(JsonSpelling::of)
                .orElseThrow(() -> new Refusal(400, "MalformedPolicyDocument", "The policy is not JSON"));
    }

    private String put(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        String name = form.getOrDefault("PolicyName", "");
        int index = index(holder.body(), holder.list(), "PolicyName", name);
        save(
                holder,
                JsonEdit.set(
                        JsonSpelling.of(holder.body()),
                        "/" + holder.list() + "/" + (index < 0 ? "-" : index),
                        Json.text(Json.object("PolicyName", name, "PolicyDocument", new Json.Raw(document(form))))));
        return "";
    }

    private String delete(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        int index = index(holder.body(), holder.list(), "PolicyName", form.getOrDefault("PolicyName", ""));
        if (index < 0) {
            throw none("The policy cannot be found.");
        }
        save(holder, JsonEdit.remove(JsonSpelling.of(holder.body()), "/" + holder.list() + "/" + index));
        return "";
    }

    private String attach(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        String arn = form.getOrDefault("PolicyArn", "");
        List<Object> all = new ArrayList<>(holder.body().list("AttachedManagedPolicies"));
        if (index(holder.body(), "AttachedManagedPolicies", "PolicyArn", arn) < 0) {
            all.add(Json.object("PolicyName", arn.substring(arn.lastIndexOf('/') + 1), "PolicyArn", arn));
        }
        save(holder, JsonEdit.set(JsonSpelling.of(holder.body()), "/AttachedManagedPolicies", Json.text(all)));
        return "";
    }

    private String detach(Call call, Map<String, String> form, String action) {
        Holder holder = holder(call, form, action);
        int index = index(holder.body(), "AttachedManagedPolicies", "PolicyArn", form.getOrDefault("PolicyArn", ""));
        if (index < 0) {
            throw none("The policy is not attached.");
        }
        save(holder, JsonEdit.remove(JsonSpelling.of(holder.body()), "/AttachedManagedPolicies/" + index));
        return "";
    }

    private String trust(Call call, Map<String, String> form) {
        Holder role = holder(call, form, "UpdateAssumeRolePolicy");
        save(role, JsonEdit.set(JsonSpelling.of(role.body()), "/AssumeRolePolicyDocument", document(form)));
        return "";
    }

    /** Source: IAM API Reference, UpdateAccessKey. */
    private String key(Call call, Map<String, String> form) {
        Holder user = holder(call, form, "UpdateAccessKey");
        String status = form.getOrDefault("Status", "");
        if (!KEY_STATES.contains(status)) {
            throw new Refusal(
                    400, "ValidationError", "1 validation error detected: the status of a key is Active or Inactive");
        }
        String id = form.getOrDefault("AccessKeyId", "");
        JsonPart keys = StorageApi.document(state, "iam-user-keys", user.arn());
        int index = index(keys, "AccessKeyMetadata", "AccessKeyId", id);
        if (index < 0) {
            throw none("The Access Key with id " + id + " cannot be found.");
        }
        state.put(
                "iam-user-keys",
                user.arn(),
                "iam:ListAccessKeys",
                JsonEdit.set(
                        JsonSpelling.of(keys), "/AccessKeyMetadata/" + index + "/Status", JsonSpelling.quoted(status)));
        return "";
    }
}
