package warden.gather.folder;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;

/** The shell script that gathers a folder of saved answers by the provider's official command line. */
public final class SurveyScript {
    private SurveyScript() {}

    /** Returns the script's text. */
    public static String text() {
        try (InputStream in = SurveyScript.class.getResourceAsStream("survey.sh")) {
            if (in == null) {
                throw new IllegalStateException("the script is not in the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }
}
