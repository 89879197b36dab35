package warden.core.aws.mend;

import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.document.JsonEdit;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/** The configuration of a distribution, one document. Source: AWS CLI Command Reference, cloudfront update-distribution. */
final class EdgeConfig {
    private static final String ASPECT = "distribution";

    private EdgeConfig() {}

    /** Makes a new configuration of the old one; the distribution is as it is in the state. */
    @FunctionalInterface
    interface Edit {
        /** Returns JSON text, the same where nothing is to be changed. */
        String of(Account account, Distribution distribution, String config);
    }

    /** Returns a change of a distribution's configuration that no visitor's answer rests on. */
    static Change unseen(Phase phase, String name, Account account, String arn, String title, Edit edit) {
        Change seen = change(phase, name, account, arn, title, edit);
        return new Change(seen.key(), seen.phase(), seen.name(), seen.account(), state -> seen.edit()
                .on(state)
                .map(Edited::unseen));
    }

    /** Returns a change of a distribution's configuration. */
    static Change change(Phase phase, String name, Account account, String arn, String title, Edit edit) {
        String id = arn.substring(arn.lastIndexOf('/') + 1);
        return new Change("distribution " + arn + " " + name, phase, name, account.number(), state -> Accounts.in(
                        state, account.number())
                .flatMap(now -> now.edges().distributions().stream()
                        .filter(each -> each.arn().equals(arn))
                        .findFirst()
                        .flatMap(each -> edited(now, each, id, title, config -> edit.of(now, each, config)))));
    }

    private static Optional<Edited> edited(
            Account account, Distribution distribution, String id, String title, UnaryOperator<String> edit) {
        String before = JsonSpelling.of(distribution.config());
        String after = edit.apply(before);
        if (before.equals(after)) {
            return Optional.empty();
        }
        List<String> read = List.of("cloudfront", "get-distribution-config", "--id=" + id);
        Edited edited = Edited.of(
                title,
                distribution.arn(),
                BucketSetting.PROGRAM,
                Edited.Document.of(
                        new Call(Accounts.with(read, "--query=DistributionConfig", "--output=json"), Optional.empty()),
                        before,
                        after),
                Edited.Calls.of(update(id, after), update(id, before))
                        .taggedBy(new Call(Accounts.with(read, "--query=ETag", "--output=text"), Optional.empty()))
                        .settledBy(Call.of("cloudfront", "wait", "distribution-deployed", "--id=" + id)),
                List.of(line(account, distribution, after)));
        return Optional.of(Accounts.refusedElsewhere(edited, account, distribution.arn()));
    }

    private static Call update(String id, String config) {
        return Call.with(
                config,
                "cloudfront",
                "update-distribution",
                "--id=" + id,
                "--distribution-config=file://" + Call.FILE,
                "--if-match=" + Call.TAG);
    }

    private static SurveyLine line(Account account, Distribution distribution, String config) {
        String body = account.survey()
                .reading(ASPECT, distribution.arn())
                .found()
                .map(JsonSpelling::of)
                .orElseThrow();
        String pointer = distribution.config().at().toString();
        return new SurveyLine(
                "",
                1,
                ASPECT,
                distribution.arn(),
                "cloudfront:GetDistribution",
                SurveyLine.Outcome.FOUND,
                pointer.isEmpty() ? config : JsonEdit.set(body, pointer, config));
    }
}
