package warden.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.Gate;
import warden.core.audit.Judgement;
import warden.core.cloud.Clouds;
import warden.core.site.SiteFile;
import warden.core.survey.SurveyException;
import warden.gather.live.LiveException;
import warden.report.AuditJson;
import warden.report.AuditScreen;
import warden.report.AuditText;
import warden.report.Style;
import warden.standin.Faults;
import warden.standin.aws.StandIn;
import warden.standin.azure.AzureStandIn;

/** Simulates the demo company's account, surveys it over the network and audits what came back. */
final class DemoCommand implements ProgramCommand {
    private final OutputOptions options = new OutputOptions();
    private final AsOf asOf = new AsOf();
    private boolean full;
    private boolean keep;
    private final World world;

    DemoCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Simulate the made-up company that comes with the program, survey it over the network, audit what "
                        + "came back, and say what to try next.");
        options.declare(line);
        asOf.declare(line);
        line.flag("--full", "On a terminal: the whole audit, not its first screen", value -> full = value);
        line.flag("--keep", "Leave the simulated account running, and print how to reach it", value -> keep = value);
    }

    @Override
    public Integer call() throws Exception {
        // The provider's client signs with the machine's time, whatever time it is taken to be.
        try (StandIn standIn = StandIn.start(
                        DemoSurvey.text(),
                        DemoSurvey.FILE,
                        (bucket, key) -> Optional.empty(),
                        Faults.none(),
                        0,
                        Clock.systemUTC());
                AzureStandIn quayside = AzureStandIn.start(
                        DemoSurvey.quaysideText(),
                        DemoSurvey.QUAYSIDE,
                        Faults.none(),
                        0,
                        StandInCommand.passingFolder(),
                        world.clock())) {
            Instant now = asOf.at(world.clock());
            DemoSurvey.Taken taken = DemoSurvey.take(standIn, now);
            DemoSurvey.Taken second = DemoSurvey.takeQuayside(quayside, now);
            options.say(taken.readings() + " readings came from the simulated account at " + standIn.endpoint() + ", "
                    + second.readings() + " from the simulated subscription at " + quayside.endpoint() + ".");
            Clouds clouds = Providers.open(
                    List.of(taken.survey(), second.survey()), SiteFile.empty(), Optional.of(asOf.at(world.clock())));
            options.guard(clouds);
            Audit audit = AuditCommand.audit(clouds, asOf.at(world.clock()), card -> true);
            // The demo ends with 0, whatever it finds.
            Judgement judgement = new Gate(Optional.empty(), Gate.Unknowns.ALLOWED).judge(audit, Optional.empty());
            options.write(
                    switch (options.format()) {
                        case json -> AuditJson.of(audit, judgement);
                        case text -> shown(audit, judgement);
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

    private String shown(Audit audit, Judgement judgement) {
        Style style = options.style(world);
        return options.isOnTerminal(world) && !full
                ? AuditScreen.of(audit, judgement, style, Optional.of(NEXT), 1)
                : AuditText.of(audit, judgement, style) + "\nThis was Heron Sound Ferries, a made-up company. "
                        + String.join("\n", NEXT) + "\n";
    }

    private static final List<String> NEXT = List.of(
            "Try next:",
            "  ./gentle-warden audit --survey " + DemoSurvey.FILE + " --show 1",
            "  ./gentle-warden trace http://www.heronferry.example/ --survey " + DemoSurvey.FILE,
            "  ./gentle-warden reach --survey " + DemoSurvey.FILE);
}
