package warden.cli;

import java.io.PrintWriter;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import warden.core.CheckCatalogue;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.document.Words;
import warden.report.CatalogueText;
import warden.report.Style;

/** Lists the catalogue, or shows one check in full. */
final class ChecksCommand implements ProgramCommand {
    private @Nullable CommandSpec spec;
    private @Nullable String id;
    private boolean markdown;
    private final World world;

    ChecksCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe("List the checks, or show one in full.");
        spec = line.spec();
        line.argument(0, "0..1", "ID", "The check to show in full", value -> id = value);
        line.flag("--markdown", "List them all in full, as a Markdown page", value -> markdown = value);
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
