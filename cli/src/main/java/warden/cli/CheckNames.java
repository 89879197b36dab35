package warden.cli;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import warden.core.CheckCatalogue;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.document.Words;

/** Understands the names of checks and areas that a command line gives. */
final class CheckNames {
    private CheckNames() {}

    /** Returns which checks are meant; all where none is named. Ends the command at a name that is not known. */
    static Predicate<CheckCard> wanted(List<String> only) {
        if (only.isEmpty()) {
            return card -> true;
        }
        Set<String> known = new TreeSet<>(CheckCatalogue.words());
        for (Area area : Area.values()) {
            known.add(area.word());
        }
        for (String name : only) {
            if (!known.contains(name)) {
                throw new InputException(
                        ExitCode.WRONG_COMMAND,
                        "--only: there is no check or area \"" + name + "\""
                                + Words.perhaps(name, known).orElse("; \"gentle-warden checks\" lists them"));
            }
        }
        Set<String> asked = only.stream().map(CheckCatalogue::idOf).collect(Collectors.toSet());
        return card -> asked.contains(card.id()) || asked.contains(card.area().word());
    }
}
