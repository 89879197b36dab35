package warden.core.aws.mend;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.identity.KeyIds;
import warden.core.document.Instants;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;
import warden.core.survey.SurveyLine;

/**
 * An access key that nobody uses is made inactive, which can be taken back; to delete it is left to a person, since that cannot. No file
 * names the key: the script finds its id by the moment at which it was made. Source: AWS CLI Command Reference, iam list-access-keys and
 * update-access-key; IAM User Guide, "Update access keys".
 */
final class UnusedKey {
    private static final String ASPECT = "iam-user-keys";
    private static final String LIST = "AccessKeyMetadata";
    private static final DateTimeFormatter SECONDS =
            DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss", Locale.ROOT).withZone(ZoneOffset.UTC);
    private static final String INACTIVE = "Inactive";

    private final Account account;
    private final String user;
    private final String place;

    private UnusedKey(Account account, String user, String place) {
        this.account = account;
        this.user = user;
        this.place = place;
    }

    /** Returns what to do about a finding that a user's key is not used. */
    static Proposal of(Account account, String user, Finding finding) {
        UnusedKey key = new UnusedKey(account, user, finding.place());
        List<JsonPart> named = key.in(account);
        boolean isFound = named.size() == 1 && key.madeLike(account, named.get(0)) == 1;
        return isFound
                ? Proposal.of(new Change(
                        "key " + user + " " + finding.place(),
                        Phase.TIDY,
                        "make-key-inactive",
                        account.number(),
                        state -> Accounts.in(state, account.number()).flatMap(key::inactive)))
                : Proposal.byHand(
                        "the moment at which the key was made does not tell it from the user's other keys",
                        "Make the key inactive (aws iam update-access-key --status Inactive), wait for a release to pass, then delete it.");
    }

    private List<JsonPart> all(Account now) {
        return now.survey()
                .reading(ASPECT, user)
                .found()
                .map(body -> body.list(LIST))
                .orElse(List.of());
    }

    private List<JsonPart> in(Account now) {
        return all(now).stream()
                .filter(key ->
                        KeyIds.shortened(key.text("AccessKeyId").orElse("")).equals(place))
                .toList();
    }

    private static Optional<String> made(JsonPart key) {
        Optional<Instant> made = key.text("CreateDate").flatMap(Instants::parse);
        return made.map(SECONDS::format);
    }

    private long madeLike(Account now, JsonPart key) {
        Optional<String> made = made(key);
        return made.isEmpty()
                ? 0
                : all(now).stream().filter(each -> made(each).equals(made)).count();
    }

    private Optional<Edited> inactive(Account now) {
        JsonPart body = now.survey().reading(ASPECT, user).found().orElseThrow();
        int index = body.list(LIST).indexOf(in(now).get(0));
        JsonPart key = body.list(LIST).get(index);
        if (key.text("Status").filter(INACTIVE::equals).isPresent()) {
            return Optional.empty();
        }
        String name = user.substring(user.lastIndexOf('/') + 1);
        String ofKey = LIST + "[?starts_with(CreateDate,'" + made(key).orElseThrow() + "')]";
        String[] list = {"iam", "list-access-keys", "--user-name=" + name};
        return Optional.of(Edited.of(
                        "Make the key of " + name
                                + " inactive that nobody uses (to delete it, once a release has passed, is left to you)",
                        user,
                        BucketSetting.PROGRAM,
                        Edited.Document.of(
                                Call.of(
                                        list[0],
                                        list[1],
                                        list[2],
                                        "--query=" + ofKey + ".{Status:Status}",
                                        "--output=json"),
                                status("Active"),
                                status(INACTIVE)),
                        Edited.Calls.of(update(name, INACTIVE), update(name, "Active"))
                                .taggedBy(Call.of(
                                        list[0],
                                        list[1],
                                        list[2],
                                        "--query=" + ofKey + ".AccessKeyId",
                                        "--output=text")),
                        List.of(new SurveyLine(
                                "",
                                1,
                                ASPECT,
                                user,
                                "iam:ListAccessKeys",
                                SurveyLine.Outcome.FOUND,
                                JsonEdit.set(
                                        JsonSpelling.of(body),
                                        "/" + LIST + "/" + index + "/Status",
                                        Json.text(INACTIVE)))))
                .unseen());
    }

    private static String status(String status) {
        return Json.text(List.of(Json.object("Status", status)));
    }

    private static Call update(String name, String status) {
        return Call.of(
                "iam", "update-access-key", "--user-name=" + name, "--access-key-id=" + Call.TAG, "--status=" + status);
    }
}
