package warden.core.mend;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/**
 * One document before and after a change, and the calls that read and write it.
 *
 * @param title what is done, a sentence without its stop
 * @param subject the identifier of the thing that the document is of
 * @param program the provider's official command line, and how it tells whose account its credentials are of
 * @param read prints the document as JSON
 * @param absence the codes with which reading says that there is none
 * @param before JSON text; absent where there is none
 * @param after JSON text; absent where there is none afterwards
 * @param apply makes the change
 * @param undo takes it back; absent where that cannot be done
 * @param tag prints the version tag of what is read, where the service has one
 * @param settle waits until the change is in effect everywhere, where that takes time
 * @param made what the step makes, and only the service can name; absent for other steps
 * @param remade what the step takes away, where undoing it gives another identifier, which the call prints
 * @param readings what a survey says afterwards
 * @param gone what a survey does not say any more
 * @param refusal why the service would refuse it; absent where it takes it
 */
public record Edited(
        String title,
        String subject,
        Program program,
        Call read,
        List<String> absence,
        Optional<String> before,
        Optional<String> after,
        Call apply,
        Optional<Call> undo,
        Optional<Call> tag,
        Optional<Call> settle,
        Optional<Made> made,
        Optional<Remade> remade,
        List<SurveyLine> readings,
        List<Gone> gone,
        Optional<String> refusal) {
    /** A change that the service takes. */
    public Edited(
            String title,
            String subject,
            Program program,
            Call read,
            List<String> absence,
            Optional<String> before,
            Optional<String> after,
            Call apply,
            Optional<Call> undo,
            Optional<Call> tag,
            Optional<Call> settle,
            Optional<Made> made,
            Optional<Remade> remade,
            List<SurveyLine> readings,
            List<Gone> gone) {
        this(
                title,
                subject,
                program,
                read,
                absence,
                before,
                after,
                apply,
                undo,
                tag,
                settle,
                made,
                remade,
                readings,
                gone,
                Optional.empty());
    }

    public Edited {
        absence = List.copyOf(absence);
        readings = List.copyOf(readings);
        gone = List.copyOf(gone);
    }

    /**
     * A provider's official command line.
     *
     * @param caller prints the number of the account that the credentials are of
     */
    public record Program(String name, Call caller) {}

    /**
     * Something new whose identifier the service gives.
     *
     * @param placeholder a name in braces, which stands for the identifier until then
     * @param find prints the identifier of the one that the step has made, or {@code None}
     */
    public record Made(String placeholder, Call find) {}

    /**
     * Something that is taken away, and made again under another identifier.
     *
     * @param id the identifier that it had
     * @param find prints the identifier of the one that was made instead, or {@code None}; absent where making it twice gives the same
     */
    public record Remade(String id, Optional<Call> find) {}

    /** A reading that is no more. */
    public record Gone(String aspect, String of) {}

    /** Returns the same change as one that the service would refuse. */
    public Edited refused(String why) {
        return new Edited(
                title,
                subject,
                program,
                read,
                absence,
                before,
                after,
                apply,
                undo,
                tag,
                settle,
                made,
                remade,
                readings,
                gone,
                Optional.of(why));
    }

    /** True where another change is of the same document. */
    public boolean isOfSameDocument(Edited other) {
        return made.isEmpty() && other.made.isEmpty() && read.equals(other.read);
    }

    /** Returns a survey as it is after the change. */
    public Survey on(Survey survey) {
        Survey changed = survey;
        for (SurveyLine line : readings) {
            changed = changed.with(new SurveyLine(
                    survey.header().file(), 1, line.aspect(), line.of(), line.call(), line.outcome(), line.body()));
        }
        for (Gone each : gone) {
            changed = changed.without(each.aspect(), each.of());
        }
        return changed;
    }
}
