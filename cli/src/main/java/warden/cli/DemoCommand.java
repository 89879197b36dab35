package warden.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import warden.core.account.Account;
import warden.core.check.Audit;
import warden.core.site.Estate;
import warden.core.site.SiteFile;
import warden.core.survey.SurveyException;
import warden.gather.survey.SurveyFiles;
import warden.report.AuditJson;
import warden.report.AuditText;

/** Audits the survey of the demo company, which the program carries with it. */
@Command(
        name = "demo",
        description = "Audit the made-up company that comes with the program, and say what to try next.")
final class DemoCommand implements Callable<Integer> {
    static final String SURVEY = "demo/heron-sound-ferries.ndjson";

    @Mixin
    private CommonOptions options = new CommonOptions();

    private final World world;

    DemoCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() {
        try (InputStream in = DemoCommand.class.getClassLoader().getResourceAsStream(SURVEY)) {
            if (in == null) {
                throw new IllegalStateException("the demo survey is not in the program");
            }
            Account account = CommonOptions.account(SurveyFiles.read(in, SURVEY));
            Audit audit = AuditCommand.audit(
                    new Estate(List.of(account), SiteFile.empty()), options.at(world.clock()), card -> true);
            options.write(
                    switch (options.format()) {
                        case json -> AuditJson.of(audit);
                        case text -> AuditText.of(audit, options.style(world.isTerminal(), world.noColor())) + NEXT;
                    });
            return ExitCode.DONE.number();
        } catch (SurveyException broken) {
            throw new IllegalStateException(broken);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    private static final String NEXT = """

            This was Heron Sound Ferries, a made-up company. Try next:
              ./gentle-warden audit --survey demo/heron-sound-ferries.ndjson --site book.heronferry.example
              ./gentle-warden reach --survey demo/heron-sound-ferries.ndjson
              ./gentle-warden checks open-around-cdn
            """;
}
