package warden.report;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import warden.core.audit.Audit;
import warden.core.survey.Need;

/** What an audit could not tell, about what, and what would allow to read it. */
final class NotTold {
    private static final int MOST_NAMED = 3;

    private final Audit audit;
    private final Names names;
    private final List<Need> needs;
    private final Set<String> permissions;

    NotTold(Audit audit, Names names) {
        this.audit = audit;
        this.names = names;
        this.needs = audit.unknowns().stream()
                .flatMap(answer -> answer.verdict().needs().stream())
                .distinct()
                .toList();
        this.permissions = needs.stream()
                .map(Need::permission)
                .filter(permission -> !permission.isEmpty())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    /** Returns the sentence, with the whole statement of the permissions that are missing; empty where everything was told. */
    String sentence() {
        return sentence(statement());
    }

    /**
     * Returns the same with the statement laid out otherwise.
     *
     * @param statement says the same as {@link #statement}
     */
    String sentence(String statement) {
        if (needs.isEmpty()) {
            return "";
        }
        return what()
                + (permissions.isEmpty()
                        ? "; no permission would help: "
                                + Lines.brief(needs.get(0).why()) + "."
                        : "; this " + (statement.contains("\"Effect\"") ? "statement" : "in a role")
                                + " would allow to read it: " + statement);
    }

    /** Returns how many questions are open, about what, and for want of which readings. */
    String what() {
        Set<String> about = new LinkedHashSet<>();
        audit.unknowns()
                .forEach(answer -> about.add(answer.verdict()
                        .site()
                        .map(Lines::brief)
                        .orElseGet(() -> names.brief(answer.verdict().subject()))));
        Set<String> aspects = needs.stream().map(Need::aspect).collect(Collectors.toCollection(LinkedHashSet::new));
        return "Not told: " + Lines.count(audit.unknowns().size(), "question") + " about " + some(List.copyOf(about))
                + ", for want of " + some(List.copyOf(aspects));
    }

    /** Returns the statement that would allow to read what is missing, on one line; empty where no permission would help. */
    String statement() {
        return audit.context().accounts().stream()
                .map(account -> account.survey().aspects())
                .distinct()
                .map(aspects -> {
                    List<String> own =
                            permissions.stream().filter(aspects::isPermission).toList();
                    return own.isEmpty() ? "" : aspects.grant(own);
                })
                .filter(grant -> !grant.isEmpty())
                .collect(Collectors.joining(" and "));
    }

    /** Returns how many permissions are missing. */
    int missingPermissions() {
        return permissions.size();
    }

    private static String some(List<String> things) {
        return things.size() <= MOST_NAMED + 1
                ? String.join(", ", things)
                : String.join(", ", things.subList(0, MOST_NAMED)) + " and " + (things.size() - MOST_NAMED) + " more";
    }
}
