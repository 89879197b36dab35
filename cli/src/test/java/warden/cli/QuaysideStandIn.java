package warden.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Clock;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import warden.standin.Faults;
import warden.standin.azure.AzureStandIn;

/** A simulated subscription with the demo's sites for each test; its keys are made once for all classes, which run side by side. */
abstract class QuaysideStandIn {
    /** A class's own folder would be taken from the others, since they share this field. */
    private static final Path KEYS = keys();

    AzureStandIn standIn;

    private static Path keys() {
        try {
            return StandInCommand.passingFolder();
        } catch (IOException full) {
            throw new UncheckedIOException(full);
        }
    }

    @BeforeEach
    void startStandIn() throws Exception {
        // The first of them makes the authority that the others find.
        synchronized (QuaysideStandIn.class) {
            standIn = AzureStandIn.start(
                    DemoSurvey.quaysideText(), "survey.ndjson", Faults.none(), 0, KEYS, Clock.systemUTC());
        }
    }

    @AfterEach
    void stopStandIn() {
        standIn.close();
    }
}
