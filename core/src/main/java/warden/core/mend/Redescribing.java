package warden.core.mend;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.Finding;
import warden.core.cloud.Cloud;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Proposal.ByHand;
import warden.core.survey.Place;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;

/**
 * Mends descriptions in their own text: where what is to be changed is a literal there, the text is changed, read again, and kept if it says
 * just what was meant, ends the finding, and the same is proven of it as of steps. What is no literal is left to a person, with its place.
 */
public final class Redescribing {
    /** A longer document is not read by a person in the middle of a sentence. */
    private static final int MOST_SHOWN = 500;

    private final Audit start;
    private final List<Check> checks;
    private final Function<Cloud, Mender> menders;
    private final Planner.Opening opening;
    private final Describing describing;
    private final Prover prover;
    private final Map<String, String> texts = new LinkedHashMap<>();
    private final Map<String, Set<Finding>> ended = new LinkedHashMap<>();
    private Audit audit;

    /** Reads the descriptions. */
    public interface Describing {
        /** Returns the text of a description's file; absent where it is not at hand. */
        Optional<String> text(String file);

        /**
         * Reads the descriptions again.
         *
         * @param instead texts that take the place of files', by their names
         * @return absent where that cannot be read
         */
        Optional<List<Survey>> read(Map<String, String> instead);
    }

    private Redescribing(
            Audit start,
            List<Check> checks,
            List<Check> ofPublishing,
            Function<Cloud, Mender> menders,
            Planner.Opening opening,
            Describing describing) {
        this.start = start;
        this.checks = checks;
        this.menders = menders;
        this.opening = opening;
        this.describing = describing;
        this.prover = new Prover(start.context(), ofPublishing);
        this.audit = start;
    }

    /**
     * Makes a plan of patches.
     *
     * @param start of the surveys that were made of the descriptions
     * @param asked the findings to be mended
     */
    public static Plan plan(
            Audit start,
            List<Check> checks,
            List<Check> ofPublishing,
            Predicate<Finding> asked,
            Function<Cloud, Mender> menders,
            Planner.Opening opening,
            Describing describing) {
        return new Redescribing(start, checks, ofPublishing, menders, opening, describing).plan(asked);
    }

    private Plan plan(Predicate<Finding> asked) {
        Map<Finding, ByHand> left = new LinkedHashMap<>();
        for (Finding finding : start.findings().stream().filter(asked).toList()) {
            attempt(finding).ifPresent(byHand -> left.put(finding, byHand));
        }
        List<Plan.Patch> patches = new ArrayList<>();
        Set<Finding> told = new HashSet<>();
        ended.forEach((file, findings) -> {
            patches.add(new Plan.Patch(
                    file,
                    describing.text(file).orElseThrow(),
                    texts.get(file),
                    findings.stream().filter(told::add).toList()));
        });
        List<Plan.Mended> mended = new ArrayList<>();
        List<Plan.Left> stay = new ArrayList<>();
        Set<String> there = new HashSet<>();
        audit.findings().forEach(finding -> there.add(Rewriting.question(finding)));
        left.forEach((finding, byHand) -> {
            boolean isThere = there.contains(Rewriting.question(finding))
                    || Planner.unknown(audit, finding).isPresent();
            if (isThere) {
                stay.add(new Plan.Left(finding, byHand));
            } else {
                mended.add(new Plan.Mended(finding, List.of()));
            }
        });
        return new Plan(
                start, audit, List.of(), patches, mended, stay, audit.context().surveys());
    }

    /** Tries to end a finding; returns what a person has to do instead where that cannot be. */
    private Optional<ByHand> attempt(Finding finding) {
        Proposal proposal = Planner.proposal(menders, audit.context(), finding);
        if (proposal instanceof ByHand byHand) {
            return Optional.of(at(finding, byHand.why(), byHand.todo()));
        }
        List<Edited> edits = new ArrayList<>();
        List<Survey> wanted = audit.context().surveys();
        AuditContext state = audit.context();
        for (Change change : ((Proposal.Changes) proposal).changes()) {
            Optional<Edited> edited = change.in(state);
            if (edited.isPresent()) {
                edits.add(edited.get());
                wanted = change.made(edited.get(), wanted);
                state = opening.of(wanted, Map.of());
            }
        }
        if (edits.isEmpty()) {
            return Optional.of(at(finding, "there is nothing to change in what was read", finding.remedy()));
        }
        boolean isOther = edits.stream()
                .anyMatch(edited -> edited.made().isPresent() || !edited.gone().isEmpty());
        return isOther
                ? Optional.of(
                        at(finding, "it takes a resource more or less, which is yours to describe", finding.remedy()))
                : describe(finding, edits, wanted);
    }

    private Optional<ByHand> describe(Finding finding, List<Edited> edits, List<Survey> wanted) {
        Map<String, String> instead = new LinkedHashMap<>(texts);
        Set<String> files = new LinkedHashSet<>();
        for (SurveyLine line : touched(edits)) {
            Optional<ByHand> obstacle = edit(finding, line, wanted, instead, files);
            if (obstacle.isPresent()) {
                return obstacle;
            }
        }
        Optional<List<Survey>> read = describing.read(instead);
        if (read.isEmpty() || !isSame(read.get(), wanted)) {
            return Optional.of(at(finding, "the changed text does not say just what is meant", finding.remedy()));
        }
        AuditContext context = opening.of(read.get(), Map.of());
        StepProof proof = prover.prove(context, seen(edits));
        if (!proof.holds()) {
            return Optional.of(
                    new ByHand(proof.why(), at(finding, "", finding.remedy()).todo(), proof.open()));
        }
        Audit after = Audit.of(context, checks, card -> true);
        if (!Rewriting.isBetter(finding, audit, after)) {
            return Optional.of(at(finding, "something else would be wrong afterwards", finding.remedy()));
        }
        audit = after;
        texts.putAll(instead);
        files.forEach(file ->
                ended.computeIfAbsent(file, key -> new LinkedHashSet<>()).add(finding));
        return Optional.empty();
    }

    private static List<SurveyLine> touched(List<Edited> edits) {
        Map<String, SurveyLine> lines = new LinkedHashMap<>();
        edits.stream()
                .flatMap(edited -> edited.readings().stream())
                .forEach(line -> lines.put(line.aspect() + "\n" + line.of(), line));
        return List.copyOf(lines.values());
    }

    private static Set<String> seen(List<Edited> edits) {
        Set<String> seen = new HashSet<>();
        edits.stream().filter(Edited::isSeen).forEach(edited -> {
            seen.add(edited.subject());
            edited.readings().forEach(line -> seen.add(line.of()));
        });
        return seen;
    }

    /** Changes the literals in which a reading is to differ. */
    private Optional<ByHand> edit(
            Finding finding, SurveyLine line, List<Survey> wanted, Map<String, String> instead, Set<String> files) {
        Optional<JsonPart> before = found(audit.context().surveys(), line);
        Optional<JsonPart> after = found(wanted, line);
        Optional<Place> place = audit.context().surveys().stream()
                .flatMap(survey -> survey.reading(line.aspect(), line.of()).citation().stream())
                .flatMap(citation -> citation.from().stream())
                .findFirst();
        Optional<Difference.Found> found = before.flatMap(one -> after.map(other -> Difference.between(one, other)));
        Optional<String> text = place.flatMap(
                each -> Optional.ofNullable(instead.get(each.file())).or(() -> describing.text(each.file())));
        if (text.isEmpty() || found.isEmpty() || found.get().isOfAnotherShape()) {
            String document = after.map(JsonSpelling::of)
                    .filter(spelled -> spelled.length() <= MOST_SHOWN)
                    .map(spelled -> " As the service tells it, it is to be " + spelled + ".")
                    .orElse("");
            return Optional.of(at(finding, "it is no literal of the description", finding.remedy() + document));
        }
        String edited = text.get();
        for (Difference difference : found.get().values()) {
            Optional<String> next = Literals.changed(edited, place.get().line(), difference);
            if (next.isEmpty()) {
                return Optional.of(at(
                        finding,
                        "it is no literal of the description",
                        finding.remedy() + " There " + difference.member() + " is to be " + difference.after() + "."));
            }
            edited = next.get();
        }
        instead.put(place.get().file(), edited);
        files.add(place.get().file());
        return Optional.empty();
    }

    private static Optional<JsonPart> found(List<Survey> surveys, SurveyLine line) {
        return surveys.stream()
                .flatMap(survey -> survey.reading(line.aspect(), line.of()).found().stream())
                .findFirst();
    }

    /** True where both say the same, reading by reading, whatever the spelling. */
    public static boolean saysTheSame(Survey one, Survey other) {
        return isSame(List.of(one), List.of(other));
    }

    private static boolean isSame(List<Survey> some, List<Survey> others) {
        return said(some).equals(said(others));
    }

    private static Map<String, Object> said(List<Survey> surveys) {
        Map<String, Object> said = new LinkedHashMap<>();
        for (Survey survey : surveys) {
            for (SurveyLine line : survey.lines()) {
                Object body = line.outcome() == SurveyLine.Outcome.FOUND ? plain(line.document()) : line.body();
                said.merge(line.aspect() + "\n" + line.of() + "\n" + line.outcome(), List.of(body), (one, other) -> {
                    List<Object> both = new ArrayList<>((List<?>) one);
                    both.addAll((List<?>) other);
                    return both;
                });
            }
        }
        return said;
    }

    /** Returns a document without its spelling: members in any order, texts that are documents as such. */
    private static Object plain(JsonPart part) {
        if (part instanceof JsonPart.JsonObject object) {
            Map<String, Object> members = new LinkedHashMap<>();
            object.members().forEach((name, value) -> members.put(name, plain(value)));
            return members;
        }
        if (part instanceof JsonPart.JsonArray array) {
            return array.items().stream().map(Redescribing::plain).toList();
        }
        return Difference.document(part).map(Redescribing::plain).orElseGet(() -> part.scalar()
                .orElse("null"));
    }

    /** Words for a person, with the place in the description that the finding rests on. */
    private static ByHand at(Finding finding, String why, String todo) {
        Optional<Place> place = finding.because().stream()
                .flatMap(citation -> citation.from().stream())
                .findFirst();
        return new ByHand(
                why,
                place.map(each -> "In " + each.file() + ":" + each.line() + " (" + each.address() + "): ")
                                .orElse("")
                        + todo,
                List.of());
    }
}
