package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;

class OptionsTest {
    private enum Tide {
        high,
        low
    }

    private final List<String> told = new ArrayList<>();
    private CommandLine line = new CommandLine(CommandSpec.create());

    @BeforeEach
    void declared() {
        Options options = new Options(CommandSpec.create().name("sail"));
        options.describe("Sails.", "Or stays.");
        options.flag("-a --all", "All of them", value -> told.add("all=" + value));
        options.hiddenFlag("--secretly", "Nobody is told", value -> told.add("secretly=" + value));
        options.text("--to", "PORT", "Where to", value -> told.add("to=" + value));
        options.word("--tide", "high|low", "When", Tide.class, value -> told.add("tide=" + value));
        options.number("--crew", "N", "How many", value -> told.add("crew=" + value));
        options.path("--chart", "FILE", "By which chart", value -> told.add("chart=" + value.getFileName()));
        options.texts("--port", "PORT", "Where else", value -> told.add("ports=" + value));
        options.paths("--log", "FILE", "Where it is written", value -> told.add("logs=" + value.size()));
        options.textsByComma("--days", "DAYS", "On which", value -> told.add("days=" + value));
        options.argument(0, "0..1", "SHIP", "Which", value -> told.add("ship=" + value));
        line = new CommandLine(options.spec()).setCaseInsensitiveEnumValuesAllowed(true);
    }

    private List<String> tells(String... arguments) {
        told.clear();
        line.parseArgs(arguments);
        return List.copyOf(told);
    }

    @Test
    void tellsNothingOfWhatIsNotGiven() {
        assertThat(tells()).isEmpty();
    }

    @Test
    void tellsWhatIsGivenInTheFormThatWasDeclared() {
        assertThat(tells("-a", "--to", "Heron Sound", "--tide=LOW", "--crew", "4", "--chart", "a/b.map", "--secretly"))
                .containsExactlyInAnyOrder(
                        "all=true", "to=Heron Sound", "tide=low", "crew=4", "chart=b.map", "secretly=true");
        assertThat(tells("--all", "Tern")).containsExactlyInAnyOrder("all=true", "ship=Tern");
    }

    @Test
    void tellsAllOfWhatRepeats() {
        assertThat(tells("--port", "a", "--port=b,c", "--port", "d")).endsWith("ports=[a, b,c, d]");
        assertThat(tells("--log", "x", "--log", "y")).endsWith("logs=2");
        assertThat(tells("--days", "mon,tue")).endsWith("days=[mon, tue]");
    }

    @Test
    void remembersNothingOfALineBefore() {
        tells("--port", "a", "--crew", "3");
        assertThat(tells("--port", "b")).contains("ports=[b]").noneMatch(each -> each.startsWith("crew"));
    }

    @Test
    void refusesWhatDoesNotFit() {
        for (String[] wrong : new String[][] {
            {"--crew", "many"}, {"--tide", "none"}, {"--to", "a", "--to", "b"}, {"Tern", "Gull"}, {"--to"}
        }) {
            assertThatThrownBy(() -> tells(wrong)).as(String.join(" ", wrong)).isInstanceOf(ParameterException.class);
        }
    }

    @Test
    void runsNothingWithoutWhatIsNeeded() {
        Options options = new Options(CommandSpec.create().name("rehearse"));
        List<List<String>> words = new ArrayList<>();
        options.neededText("--as", "NAME", "As whom", value -> told.add(value));
        options.arguments("1..*", "COMMAND", "What", words::add);
        CommandLine needs = new CommandLine(options.spec());
        assertThatThrownBy(() -> needs.parseArgs("ls")).hasMessageContaining("--as");
        assertThatThrownBy(() -> needs.parseArgs("--as", "me")).hasMessageContaining("COMMAND");
        needs.parseArgs("--as", "me", "--", "ls", "-l", Path.of("x").toString());
        assertThat(words.get(words.size() - 1)).containsExactly("ls", "-l", "x");
    }

    @Test
    void asksForEachArgumentThatIsNeeded() {
        Options options = new Options(CommandSpec.create().name("drift"));
        options.argument(0, "1", "OLD", "As it was", told::add);
        options.argument(1, "1", "NEW", "As it is", told::add);
        CommandLine needs = new CommandLine(options.spec());
        assertThatThrownBy(needs::parseArgs).hasMessageContaining("OLD").hasMessageContaining("NEW");
        assertThatThrownBy(() -> needs.parseArgs("a")).hasMessageContaining("NEW");
        assertThatThrownBy(() -> needs.parseArgs("a", "b", "c")).isInstanceOf(ParameterException.class);
    }

    @Test
    void saysInHelpWhatWasDeclared() {
        assertThat(line.getUsageMessage(CommandLine.Help.Ansi.OFF))
                .contains("Sails.", "Or stays.", "-a, --all", "--tide=high|low", "--days=DAYS", "[SHIP]")
                .doesNotContain("secretly");
    }
}
