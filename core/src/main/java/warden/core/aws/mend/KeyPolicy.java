package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/**
 * The policy of a key under which objects are encrypted. Source: AWS CLI Command Reference, kms get-key-policy and put-key-policy; CloudFront
 * Developer Guide, "Restrict access to an Amazon S3 origin", section "SSE-KMS".
 */
final class KeyPolicy {
    private static final String ASPECT = "key-policy";

    private KeyPolicy() {}

    /** Lets distributions decrypt what they read. */
    static Change letIn(Account account, String key, List<String> distributions) {
        String number = account.number();
        return new Change(
                "key policy " + key, Phase.LET_IN, "let-edge-decrypt", number, state -> Accounts.in(state, number)
                        .flatMap(now -> now.survey().reading(ASPECT, key).found())
                        .flatMap(answer -> edited(account, key, distributions, answer)));
    }

    private static Optional<Edited> edited(Account account, String key, List<String> distributions, JsonPart answer) {
        String before = answer.text("Policy")
                .orElseGet(() -> JsonSpelling.of(answer.find("Policy").orElse(answer)));
        Map<String, Object> statement = Json.object(
                "Sid",
                "LetEdgeDecrypt",
                "Effect",
                "Allow",
                "Principal",
                Json.object("Service", "cloudfront.amazonaws.com"),
                "Action",
                "kms:Decrypt",
                "Resource",
                "*",
                "Condition",
                Json.object(
                        "StringEquals",
                        Json.object(
                                "aws:SourceArn", distributions.size() == 1 ? distributions.get(0) : distributions)));
        String after = PolicyText.adding(before, statement);
        Edited edited = Edited.of(
                "Let the edge decrypt what it reads under the key " + key.substring(key.lastIndexOf('/') + 1),
                key,
                BucketSetting.PROGRAM,
                Edited.Document.of(
                        new Call(
                                Accounts.with(named("get-key-policy", key), "--query=Policy", "--output=text"),
                                Optional.empty()),
                        before,
                        after),
                Edited.Calls.of(put(key, after), put(key, before)),
                List.of(new SurveyLine(
                        "",
                        1,
                        ASPECT,
                        key,
                        "kms:GetKeyPolicy",
                        SurveyLine.Outcome.FOUND,
                        Json.text(Json.object("Policy", after)))));
        return Optional.of(Accounts.refusedElsewhere(edited, account, key));
    }

    /** A key is asked for in its own region. */
    private static List<String> named(String command, String key) {
        List<String> call = new ArrayList<>(List.of("kms", command, "--key-id=" + key, "--policy-name=default"));
        String[] parts = key.split(":");
        if (parts.length > 3 && !parts[3].isEmpty()) {
            call.add("--region=" + parts[3]);
        }
        return call;
    }

    private static Call put(String key, String policy) {
        return new Call(
                Accounts.with(named("put-key-policy", key), "--policy=file://" + Call.FILE), Optional.of(policy));
    }
}
