package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.CheckCatalogue;
import warden.core.cloud.Clouds;
import warden.core.mend.Choice;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.gather.site.SiteFileEdit;

/**
 * A site file as its owner wrote it.
 *
 * @param name its path, as it was given; where there is none, the one at which it is looked for
 * @param text empty where there is none
 */
record SiteFileText(String name, String text) {
    /** What is said when an answer is stated. */
    record Stated(String text, SiteFile file) {}

    /** Reads it. */
    static SiteFileText read(@Nullable String named) {
        Optional<String> name = Surveys.siteFileName(named);
        try {
            return new SiteFileText(
                    name.orElse(Surveys.DEFAULT_SITE_FILE),
                    name.isPresent() ? Files.readString(Path.of(name.get())) : "");
        } catch (IOException gone) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    name.orElseThrow() + ": it cannot be read any more (" + TargetFile.why(gone) + ")");
        }
    }

    /** States an answer for sites; absent where the text cannot be edited with certainty. */
    Optional<Stated> stating(Clouds clouds, List<Choice> choices, Choice.Answer answer) {
        Map<String, SiteFileEdit.Statement> statements = new LinkedHashMap<>();
        for (Choice choice : choices) {
            Site site = choice.site();
            statements.put(
                    site.name(),
                    new SiteFileEdit.Statement(
                            site.name(),
                            site.hosts(),
                            site.storeIds().stream().findFirst().flatMap(clouds::statedName),
                            choice.pattern(answer)));
        }
        return SiteFileEdit.stating(text, name, CheckCatalogue.words(), List.copyOf(statements.values()))
                .map(edited -> new Stated(edited.text(), edited.file().naming(CheckCatalogue::idOf)));
    }
}
