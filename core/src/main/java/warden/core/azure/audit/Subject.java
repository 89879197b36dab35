package warden.core.azure.audit;

import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** One thing with an identifier, which may be a site's. */
public interface Subject extends Judged {
    /** Returns its identifier. */
    String id();

    /** Returns the name of its site; absent when it is no site's. */
    Optional<String> site();

    /** Returns a finding about it; {@code because} holds at least one citation. */
    default Finding finding(CheckCard card, String says, List<Citation> because) {
        return Finding.of(card, id(), site(), says, because);
    }

    /** Returns that something is wrong. */
    default List<Verdict> flagged(CheckCard card, String says, List<Citation> because) {
        return List.of(new Verdict.Flagged(finding(card, says, because)));
    }

    /** Returns that something is wrong, by one reading that was found. */
    default List<Verdict> flagged(CheckCard card, String says, Optional<Citation> because) {
        return flagged(card, says, because.stream().toList());
    }

    /** Returns that nothing is wrong. */
    default List<Verdict> clean() {
        return List.of(new Verdict.Clean(id(), site()));
    }

    @Override
    default Verdict unknown(List<Need> needs) {
        return new Verdict.Unknown(id(), site(), needs);
    }

    /** Returns that it cannot be told. */
    default List<Verdict> open(Need need) {
        return List.of(unknown(List.of(need)));
    }

    /** Returns that it cannot be told; that nothing is wrong where nothing is missing. */
    default List<Verdict> open(List<Need> needs) {
        return needs.isEmpty() ? clean() : List.of(unknown(needs));
    }
}
