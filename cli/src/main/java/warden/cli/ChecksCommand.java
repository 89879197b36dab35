package warden.cli;

import java.io.PrintWriter;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import warden.core.CheckCatalogue;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.document.Words;
import warden.report.CatalogueText;
import warden.report.Style;

/** Lists the catalogue, or shows one check in full. */
@Command(name = "checks", addMethodSubcommands = false, description = "List the checks, or show one in full.")
final class ChecksCommand implements Callable<Integer> {
    @Spec
    private @Nullable CommandSpec spec;

    @Parameters(arity = "0..1", paramLabel = "ID", description = "The check to show in full")
    private @Nullable String id;

    @Option(names = "--markdown", description = "List them all in full, as a Markdown page")
    private boolean markdown;

    private final World world;

    ChecksCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        Style style = new Style(false, world.isTerminal() ? world.columns() : Style.USUAL);
        PrintWriter out = Objects.requireNonNull(spec).commandLine().getOut();
        List<CheckCard> cards = CheckCatalogue.all().stream().map(Check::card).toList();
        if (markdown) {
            out.print(CatalogueText.markdown(cards, CheckCatalogue::byProvider));
        } else if (id == null) {
            out.print(CatalogueText.list(cards, style));
        } else {
            CheckCard card = cards.stream()
                    .filter(each -> each.id().equals(CheckCatalogue.idOf(String.valueOf(id))))
                    .findFirst()
                    .orElseThrow(() -> new InputException(
                            ExitCode.WRONG_COMMAND,
                            "there is no check \"" + id + "\""
                                    + Words.perhaps(
                                                    id,
                                                    cards.stream()
                                                            .map(CheckCard::id)
                                                            .toList())
                                            .orElse("; \"gentle-warden checks\" lists them")));
            out.print(CatalogueText.card(CheckCatalogue.byProvider(card.id()), style));
        }
        out.flush();
        return ExitCode.DONE.number();
    }
}
