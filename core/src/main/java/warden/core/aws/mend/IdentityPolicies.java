package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.aws.account.Account;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/**
 * The documents that say what a user or a role may do, and who may work as a role. Source: AWS CLI Command Reference, iam, the commands
 * named; the form of readings: IAM API Reference, GetAccountAuthorizationDetails.
 */
final class IdentityPolicies {
    private final Account account;
    private final String arn;
    private final boolean isRole;
    private final String name;

    IdentityPolicies(Account account, String arn) {
        this.account = account;
        this.arn = arn;
        this.isRole = arn.contains(":role/");
        this.name = arn.substring(arn.lastIndexOf('/') + 1);
    }

    private String aspect() {
        return isRole ? "iam-role" : "iam-user";
    }

    private String kind() {
        return isRole ? "role" : "user";
    }

    private String list() {
        return isRole ? "RolePolicyList" : "UserPolicyList";
    }

    private static Optional<JsonPart> reading(Account account, String aspect, String of) {
        return account.survey().reading(aspect, of).found();
    }

    /** Returns the names of the policies that it holds itself. */
    List<String> inline() {
        return reading(account, aspect(), arn).stream()
                .flatMap(body -> body.list(list()).stream())
                .flatMap(policy -> policy.text("PolicyName").stream())
                .toList();
    }

    /** Returns the ARNs of the policies that are attached to it. */
    List<String> attached() {
        return reading(account, aspect(), arn).stream()
                .flatMap(body -> body.list("AttachedManagedPolicies").stream())
                .flatMap(policy -> policy.text("PolicyArn").stream())
                .toList();
    }

    /** Returns the groups that it is in; none for roles. */
    List<String> groups() {
        return reading(account, aspect(), arn)
                .map(body -> body.texts("GroupList"))
                .orElse(List.of());
    }

    private interface Work {
        Optional<Edited> on(JsonPart body);
    }

    private Change change(Phase phase, String step, String key, Work work) {
        return new Change("credential " + arn + " " + key, phase, step, account.number(), state -> Accounts.in(
                        state, account.number())
                .flatMap(now -> reading(now, aspect(), arn))
                .flatMap(work::on));
    }

    private SurveyLine line(String body) {
        return new SurveyLine(
                "", 1, aspect(), arn, "iam:GetAccountAuthorizationDetails", SurveyLine.Outcome.FOUND, body);
    }

    private Edited edited(
            String title,
            Call read,
            List<String> absence,
            Optional<String> before,
            Optional<String> after,
            Call apply,
            Call undo,
            String body) {
        return Edited.of(
                        title,
                        arn,
                        BucketSetting.PROGRAM,
                        new Edited.Document(read, absence, before, after),
                        Edited.Calls.of(apply, undo),
                        List.of(line(body)))
                .unseen();
    }

    // --- policies of its own

    /** Puts a policy of this name, in the place of the one that is there, if one is. */
    Change put(Phase phase, String step, String policy, String title, String document) {
        return change(phase, step, "policy " + policy, body -> inline(title, body, policy, Optional.of(document)));
    }

    /** Takes a policy away. */
    Change delete(Phase phase, String step, String policy, String title) {
        return change(phase, step, "no policy " + policy, body -> inline(title, body, policy, Optional.empty()));
    }

    private Optional<Edited> inline(String title, JsonPart body, String policy, Optional<String> after) {
        List<JsonPart> policies = body.list(list());
        int index = -1;
        for (int i = 0; i < policies.size(); i++) {
            index = policies.get(i).text("PolicyName").filter(policy::equals).isPresent() ? i : index;
        }
        Optional<String> before = index < 0
                ? Optional.empty()
                : policies.get(index).find("PolicyDocument").map(IdentityPolicies::document);
        if (before.equals(after)) {
            return Optional.empty();
        }
        String text = JsonSpelling.of(body);
        String now = after.isEmpty()
                ? JsonEdit.remove(text, "/" + list() + "/" + index)
                : JsonEdit.set(
                        text,
                        "/" + list() + "/" + (index < 0 ? "-" : index),
                        Json.text(Json.object("PolicyName", policy, "PolicyDocument", new Json.Raw(after.get()))));
        List<String> named = List.of("--" + kind() + "-name=" + name, "--policy-name=" + policy);
        List<String> read = new ArrayList<>(List.of("iam", "get-" + kind() + "-policy"));
        read.addAll(named);
        read.addAll(List.of("--query=PolicyDocument", "--output=json"));
        return Optional.of(edited(
                title,
                new Call(read, Optional.empty()),
                List.of("NoSuchEntity"),
                before,
                after,
                inlineCall(named, after),
                inlineCall(named, before),
                now));
    }

    private Call inlineCall(List<String> named, Optional<String> document) {
        List<String> call =
                new ArrayList<>(List.of("iam", (document.isPresent() ? "put-" : "delete-") + kind() + "-policy"));
        call.addAll(named);
        document.ifPresent(text -> call.add("--policy-document=file://" + Call.FILE));
        return new Call(call, document);
    }

    /** A document stands in answers as JSON, or as the text of JSON. */
    private static String document(JsonPart part) {
        return part instanceof JsonPart.JsonText text ? text.value() : JsonSpelling.of(part);
    }

    // --- attached policies

    /** Takes an attached policy off. */
    Change detach(Phase phase, String step, String policyArn, String title) {
        return change(phase, step, "without " + policyArn, body -> {
            List<JsonPart> policies = body.list("AttachedManagedPolicies");
            int index = -1;
            for (int i = 0; i < policies.size(); i++) {
                index = policies.get(i)
                                .text("PolicyArn")
                                .filter(policyArn::equals)
                                .isPresent()
                        ? i
                        : index;
            }
            if (index < 0) {
                return Optional.empty();
            }
            String[] named = {"--" + kind() + "-name=" + name, "--policy-arn=" + policyArn};
            return Optional.of(edited(
                    title,
                    Call.of(
                            "iam",
                            "list-attached-" + kind() + "-policies",
                            named[0],
                            "--query=AttachedPolicies[?PolicyArn=='" + policyArn + "'].PolicyArn",
                            "--output=json"),
                    List.of(),
                    Optional.of(Json.text(List.of(policyArn))),
                    Optional.of("[]"),
                    Call.of("iam", "detach-" + kind() + "-policy", named[0], named[1]),
                    Call.of("iam", "attach-" + kind() + "-policy", named[0], named[1]),
                    JsonEdit.remove(JsonSpelling.of(body), "/AttachedManagedPolicies/" + index)));
        });
    }

    // --- trust

    /** Changes who may work as the role. */
    Change trust(Phase phase, String step, String title, UnaryOperator<String> after) {
        return change(phase, step, step, body -> {
            Optional<String> before = body.find("AssumeRolePolicyDocument").map(IdentityPolicies::document);
            if (!isRole || before.isEmpty()) {
                return Optional.empty();
            }
            String document = after.apply(before.get());
            if (document.equals(before.get())) {
                return Optional.empty();
            }
            return Optional.of(edited(
                    title,
                    Call.of(
                            "iam",
                            "get-role",
                            "--role-name=" + name,
                            "--query=Role.AssumeRolePolicyDocument",
                            "--output=json"),
                    List.of(),
                    before,
                    Optional.of(document),
                    trustCall(document),
                    trustCall(before.get()),
                    JsonEdit.set(JsonSpelling.of(body), "/AssumeRolePolicyDocument", document)));
        });
    }

    private Call trustCall(String document) {
        return Call.with(
                document,
                "iam",
                "update-assume-role-policy",
                "--role-name=" + name,
                "--policy-document=file://" + Call.FILE);
    }
}
