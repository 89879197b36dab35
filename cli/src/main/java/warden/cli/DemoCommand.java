package warden.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import warden.core.check.Audit;
import warden.core.site.Estate;
import warden.core.site.SiteFile;
import warden.core.survey.SurveyException;
import warden.gather.live.LiveException;
import warden.report.AuditJson;
import warden.report.AuditText;
import warden.standin.Faults;
import warden.standin.StandIn;

/** Simulates the demo company's account, surveys it over the network and audits what came back. */
@Command(
        name = "demo",
        description =
                "Simulate the made-up company that comes with the program, survey it over the network, audit what "
                        + "came back, and say what to try next.")
final class DemoCommand implements Callable<Integer> {
    @Mixin
    private CommonOptions options = new CommonOptions();

    @Option(names = "--keep", description = "Leave the simulated account running, and print how to reach it")
    private boolean keep;

    private final World world;

    DemoCommand(World world) {
        this.world = world;
    }

    @Override
    public Integer call() throws Exception {
        try (StandIn standIn = StandIn.start(
                DemoSurvey.text(),
                DemoSurvey.FILE,
                (bucket, key) -> Optional.empty(),
                Faults.none(),
                0,
                world.clock())) {
            DemoSurvey.Taken taken = DemoSurvey.take(standIn);
            options.say(taken.readings() + " readings came from the simulated account at " + standIn.endpoint() + ".");
            Estate estate = new Estate(
                    List.of(CommonOptions.account(taken.survey())),
                    SiteFile.empty(),
                    Optional.of(options.at(world.clock())));
            options.guard(estate);
            Audit audit = AuditCommand.audit(estate, options.at(world.clock()), card -> true);
            options.write(
                    switch (options.format()) {
                        case json -> AuditJson.of(audit);
                        case text ->
                            AuditText.of(audit, options.style(world.isTerminal(), world.noColor()), false) + NEXT;
                    });
            if (keep) {
                Path folder = StandInCommand.passingFolder();
                StandInCommand.howToReach(standIn, standIn.startTls(folder, 0))
                        .lines()
                        .forEach(options::say);
                Thread.currentThread().join();
            }
            return ExitCode.DONE.number();
        } catch (SurveyException broken) {
            throw new IllegalStateException(broken);
        } catch (LiveException | IOException unreachable) {
            throw new InputException(
                    ExitCode.UNREACHABLE,
                    "the simulated account cannot be run on loopback here (" + unreachable.getMessage()
                            + "); audit the file itself: gentle-warden audit --survey " + DemoSurvey.FILE);
        }
    }

    private static final String NEXT = """

            This was Heron Sound Ferries, a made-up company. Try next:
              ./gentle-warden audit --survey demo/heron-sound-ferries.ndjson --site book.heronferry.example
              ./gentle-warden trace http://www.heronferry.example/ --survey demo/heron-sound-ferries.ndjson
              ./gentle-warden reach --survey demo/heron-sound-ferries.ndjson
              ./gentle-warden checks open-around-cdn
            """;
}
