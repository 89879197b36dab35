package warden.core.azure.account;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;

/**
 * One resource, as a list or a call of its own gave it.
 *
 * @param id as it was written
 * @param document the whole resource
 */
public record Item(String id, JsonPart document, Citation at) {
    public String name() {
        return document.text("name").orElse(ResourceId.name(id));
    }

    /** Returns a value below {@code properties} as text; absent where it is missing or null. */
    public Optional<String> text(String... path) {
        return document.text(path(path));
    }

    /** Returns a truth value below {@code properties}; absent where it is missing, null or none. */
    public Optional<Boolean> flag(String... path) {
        return document.flag(path(path));
    }

    /**
     * Returns whether a switch below {@code properties} is on; unknown where what stands there is no truth value.
     *
     * @param missing what it means that the switch is missing, or null
     */
    public Truth isOn(Truth missing, String... path) {
        return find(path).isEmpty() ? missing : flag(path).map(Truth::of).orElse(Truth.UNKNOWN);
    }

    /** Returns the items of a list below {@code properties}; none where there is no list. */
    public List<JsonPart> list(String... path) {
        return document.list(path(path));
    }

    /** Returns the texts of a list below {@code properties}. */
    public List<String> texts(String... path) {
        return document.texts(path(path));
    }

    /** Returns a value below {@code properties}; absent where it is missing or null. */
    public Optional<JsonPart> find(String... path) {
        return document.find(path(path));
    }

    private static String[] path(String[] path) {
        String[] whole = new String[path.length + 1];
        whole[0] = "properties";
        System.arraycopy(path, 0, whole, 1, path.length);
        return whole;
    }

    /** Returns where a value below {@code properties} stands. */
    public Citation cite(String... path) {
        StringBuilder pointer = new StringBuilder(at.path()).append("/properties");
        for (String step : path) {
            pointer.append('/').append(step);
        }
        String quote = path.length == 0
                ? ""
                : path[path.length - 1] + ": " + text(path).orElse("-");
        return at.at(pointer.toString(), quote);
    }
}
