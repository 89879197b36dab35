package warden.core.survey;

/**
 * Where a description says what a reading holds.
 *
 * @param file the description's name as the user gave it
 * @param line counted from 1
 * @param address the resource's address within it; empty where it has none
 */
public record Place(String file, int line, String address) {
    public Place {
        if (line < 1) {
            throw new IllegalArgumentException("lines count from 1, not " + line);
        }
    }
}
