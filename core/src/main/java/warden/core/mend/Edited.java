package warden.core.mend;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/**
 * One document before and after a change, the calls that read and write it, and what a survey says afterwards.
 *
 * @param title what is done, a sentence without its stop
 * @param subject the identifier of the thing that the document is of
 * @param program the provider's official command line, and how it tells whose account its credentials are of
 * @param made what the step makes, and only the service can name; absent for other steps
 * @param remade what the step takes away, where undoing it gives another identifier, which the call prints
 * @param readings what a survey says afterwards
 * @param gone what a survey does not say any more
 * @param isSeen false where no visitor's answer rests on what is changed, whatever decides it
 * @param refusal why the service would refuse it; absent where it takes it
 */
public record Edited(
        String title,
        String subject,
        Program program,
        Document document,
        Calls calls,
        Optional<Made> made,
        Optional<Remade> remade,
        List<SurveyLine> readings,
        List<Gone> gone,
        boolean isSeen,
        Optional<String> refusal) {
    public Edited {
        readings = List.copyOf(readings);
        gone = List.copyOf(gone);
    }

    /** Returns a change of a document that is there for good, or comes or goes as a whole. */
    public static Edited of(
            String title, String subject, Program program, Document document, Calls calls, List<SurveyLine> readings) {
        return new Edited(
                title,
                subject,
                program,
                document,
                calls,
                Optional.empty(),
                Optional.empty(),
                readings,
                List.of(),
                true,
                Optional.empty());
    }

    /**
     * A provider's official command line.
     *
     * @param caller prints the number of the account that the credentials are of
     */
    public record Program(String name, Call caller) {}

    /**
     * A document, JSON text.
     *
     * @param read prints it
     * @param absence the codes with which reading says that there is none
     * @param before absent where there is none
     * @param after absent where there is none afterwards
     */
    public record Document(Call read, List<String> absence, Optional<String> before, Optional<String> after) {
        public Document {
            absence = List.copyOf(absence);
        }

        /** One that is always there. */
        public static Document of(Call read, String before, String after) {
            return new Document(read, List.of(), Optional.of(before), Optional.of(after));
        }
    }

    /**
     * What changes a document.
     *
     * @param apply makes the change
     * @param undo takes it back; absent where that cannot be done
     * @param tag prints the version tag of what is read, where the service has one
     * @param settle waits until the change is in effect everywhere, where that takes time
     */
    public record Calls(Call apply, Optional<Call> undo, Optional<Call> tag, Optional<Call> settle) {
        /** A change of a service without version tags, which is in effect at once. */
        public static Calls of(Call apply, Call undo) {
            return new Calls(apply, Optional.of(undo), Optional.empty(), Optional.empty());
        }

        /** Returns the same calls, bound to a version tag. */
        public Calls taggedBy(Call call) {
            return new Calls(apply, undo, Optional.of(call), settle);
        }

        /** Returns the same calls, waited for. */
        public Calls settledBy(Call call) {
            return new Calls(apply, undo, tag, Optional.of(call));
        }
    }

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

    /** Returns the same change, of which other readings tell too. */
    public Edited telling(List<SurveyLine> more) {
        List<SurveyLine> all = new ArrayList<>(readings);
        all.addAll(more);
        return new Edited(title, subject, program, document, calls, made, remade, all, gone, isSeen, refusal);
    }

    /** Returns the same change as one that makes something new. */
    public Edited making(Made something) {
        return new Edited(
                title,
                subject,
                program,
                document,
                calls,
                Optional.of(something),
                remade,
                readings,
                gone,
                isSeen,
                refusal);
    }

    /** Returns the same change as one that takes something away, and its reading with it. */
    public Edited removing(Remade something, Gone reading) {
        List<Gone> all = new ArrayList<>(gone);
        all.add(reading);
        return new Edited(
                title, subject, program, document, calls, made, Optional.of(something), readings, all, isSeen, refusal);
    }

    /** Returns the same change as one that no visitor's answer rests on. */
    public Edited unseen() {
        return new Edited(title, subject, program, document, calls, made, remade, readings, gone, false, refusal);
    }

    /** Returns the same change as one that the service would refuse. */
    public Edited refused(String why) {
        return new Edited(
                title, subject, program, document, calls, made, remade, readings, gone, isSeen, Optional.of(why));
    }

    /** Returns what makes the change. */
    public Call apply() {
        return calls.apply();
    }

    /** Returns what takes it back; absent where that cannot be done. */
    public Optional<Call> undo() {
        return calls.undo();
    }

    /** Returns the document as surveyed; absent where there was none. */
    public Optional<String> before() {
        return document.before();
    }

    /** Returns the document as it should be; absent where there is none afterwards. */
    public Optional<String> after() {
        return document.after();
    }

    /** True where another change is of the same document. */
    public boolean isOfSameDocument(Edited other) {
        return made.isEmpty() && other.made.isEmpty() && document.read().equals(other.document.read());
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
