package warden.core.mend;

import java.util.List;
import java.util.Optional;
import warden.core.audit.AuditContext;
import warden.core.cloud.Cloud;
import warden.core.survey.Survey;

/**
 * A change of one document, worked out on the state in which it is made. Several findings may ask for the same one.
 *
 * @param key the same for the same change
 * @param name a short name for its step, in lower case with hyphens
 * @param account the number of the account that it is made in
 */
public record Change(String key, Phase phase, String name, String account, Edit edit) {
    /** Works it out on a state; absent where the document is as it should be, or the state has no such account. */
    Optional<Edited> in(AuditContext state) {
        return state.clouds().stream()
                .filter(cloud ->
                        cloud.accounts().stream().anyMatch(each -> each.number().equals(account)))
                .findFirst()
                .flatMap(edit::on);
    }

    /** Returns surveys as they are after it. */
    List<Survey> made(Edited edited, List<Survey> surveys) {
        return surveys.stream()
                .map(survey -> survey.header().account().equals(account) ? edited.on(survey) : survey)
                .toList();
    }

    /** What to change. */
    @FunctionalInterface
    public interface Edit {
        /** Returns the document before and after; absent where it is in that state as it should be. */
        Optional<Edited> on(Cloud state);
    }
}
