package warden.report;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.check.Audit;
import warden.core.survey.Need;
import warden.core.survey.Permissions;

/** What an audit could not tell, about what, and what would allow to read it. */
final class NotTold {
    private static final int MOST_NAMED = 3;

    private final Audit audit;
    private final Names names;

    NotTold(Audit audit, Names names) {
        this.audit = audit;
        this.names = names;
    }

    /** Returns the sentence, with the whole statement of the permissions that are missing; empty where everything was told. */
    String sentence() {
        if (audit.unknowns().isEmpty()) {
            return "";
        }
        Set<String> permissions = permissions();
        return what()
                + (permissions.isEmpty()
                        ? "; no permission would help: "
                                + Lines.brief(needs().get(0).why()) + "."
                        : "; this statement would allow to read it: " + Permissions.statement(permissions));
    }

    /** Returns how many questions are open, about what, and for want of which readings. */
    String what() {
        int count = audit.unknowns().size();
        Set<String> about = new LinkedHashSet<>();
        audit.unknowns()
                .forEach(answer -> about.add(answer.verdict()
                        .site()
                        .map(Lines::brief)
                        .orElseGet(() -> names.brief(answer.verdict().subject()))));
        Set<String> aspects = needs().stream().map(Need::aspect).collect(Collectors.toCollection(LinkedHashSet::new));
        return "Not told: " + count + (count == 1 ? " question" : " questions") + " about " + some(List.copyOf(about))
                + ", for want of " + some(List.copyOf(aspects));
    }

    private List<Need> needs() {
        return audit.unknowns().stream()
                .flatMap(answer -> answer.verdict().needs().stream())
                .distinct()
                .toList();
    }

    /** Returns the permissions that are missing, in alphabetical order. */
    Set<String> permissions() {
        return needs().stream()
                .map(Need::permission)
                .filter(permission -> !permission.isEmpty())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static String some(List<String> things) {
        return things.size() <= MOST_NAMED + 1
                ? String.join(", ", things)
                : String.join(", ", things.subList(0, MOST_NAMED)) + " and " + (things.size() - MOST_NAMED) + " more";
    }
}
