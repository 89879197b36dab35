package warden.core.aws.mend;

import java.util.List;
import java.util.Optional;
import warden.core.aws.account.Account;
import warden.core.document.Json;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/** The public access block of a whole account. Source: AWS CLI Command Reference, s3control put-public-access-block. */
final class AccountGuard {
    private static final String ASPECT = "account-public-access";
    private static final String MEMBER = "PublicAccessBlockConfiguration";
    /** All four flags on, as a bucket's block has them too. */
    static final String ALL_FLAGS = Json.text(Json.object(
            "BlockPublicAcls",
            true,
            "IgnorePublicAcls",
            true,
            "BlockPublicPolicy",
            true,
            "RestrictPublicBuckets",
            true));

    private AccountGuard() {}

    /** Turns on all four flags. */
    static Change block(Account account) {
        String number = account.number();
        return new Change(
                "account block " + number, Phase.GUARD, "block-account", number, state -> Accounts.in(state, number)
                        .filter(now -> !now.survey().reading(ASPECT, number).isUnread())
                        .flatMap(AccountGuard::blocked));
    }

    private static Optional<Edited> blocked(Account account) {
        String number = account.number();
        Optional<String> before = account.survey()
                .reading(ASPECT, number)
                .found()
                .map(answer -> JsonSpelling.of(answer.find(MEMBER).orElse(answer)));
        if (before.filter(ALL_FLAGS::equals).isPresent()) {
            return Optional.empty();
        }
        return Optional.of(Edited.of(
                "Turn on all four flags of the account's public access block",
                number,
                BucketSetting.PROGRAM,
                new Edited.Document(
                        Call.of(
                                "s3control",
                                "get-public-access-block",
                                "--account-id=" + number,
                                "--query=" + MEMBER,
                                "--output=json"),
                        List.of("NoSuchPublicAccessBlockConfiguration"),
                        before,
                        Optional.of(ALL_FLAGS)),
                Edited.Calls.of(
                        put(number, ALL_FLAGS),
                        before.isPresent()
                                ? put(number, before.get())
                                : Call.of("s3control", "delete-public-access-block", "--account-id=" + number)),
                List.of(new SurveyLine(
                        "",
                        1,
                        ASPECT,
                        number,
                        "s3:GetAccountPublicAccessBlock",
                        SurveyLine.Outcome.FOUND,
                        Json.text(Json.object(MEMBER, new Json.Raw(ALL_FLAGS)))))));
    }

    private static Call put(String number, String block) {
        return Call.with(
                block,
                "s3control",
                "put-public-access-block",
                "--account-id=" + number,
                "--public-access-block-configuration=file://" + Call.FILE);
    }
}
