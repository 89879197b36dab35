package warden.cli;

import java.nio.file.Path;
import java.time.Clock;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import warden.standin.Faults;
import warden.standin.azure.AzureStandIn;

/** A simulated subscription with the demo's sites for each test; its keys are made once for a class. */
abstract class QuaysideStandIn {
    @TempDir
    private static Path keys;

    AzureStandIn standIn;

    @BeforeEach
    void startStandIn() throws Exception {
        standIn = AzureStandIn.start(
                DemoSurvey.quaysideText(), "survey.ndjson", Faults.none(), 0, keys, Clock.systemUTC());
    }

    @AfterEach
    void stopStandIn() {
        standIn.close();
    }
}
