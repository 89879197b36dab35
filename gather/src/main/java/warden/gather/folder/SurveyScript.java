package warden.gather.folder;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;

/** The shell script that gathers a folder of saved answers by the provider's official command line. */
public final class SurveyScript {
    private SurveyScript() {}

    /** Returns the script's text for a provider, by its word. */
    public static String text(String provider) {
        String file = provider.equals("azure") ? "survey-azure.sh" : "survey.sh";
        try (InputStream in = SurveyScript.class.getResourceAsStream(file)) {
            if (in == null) {
                throw new IllegalStateException("the script is not in the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }
}
