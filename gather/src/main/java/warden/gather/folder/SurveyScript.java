package warden.gather.folder;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;

/**
 * A shell script that gathers a folder of saved answers by a provider's official command line. It only reads.
 *
 * @param text of the script
 */
public record SurveyScript(String text) {
    /** Returns the script that lies beside a class. */
    public static SurveyScript beside(Class<?> place) {
        try (InputStream in = place.getResourceAsStream("survey.sh")) {
            if (in == null) {
                throw new IllegalStateException("the script is not in the program");
            }
            return new SurveyScript(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }
}
