package warden.gather.aws.inventory;

import java.util.List;
import warden.core.survey.SurveyLine;

/**
 * What a bucket held when its inventory was made.
 *
 * @param bucket the bucket's name
 * @param reading the line of a survey that tells it
 * @param named the keys that the line names, in the report's order
 * @param objects how many objects there are
 */
public record Inventory(String bucket, SurveyLine reading, List<String> named, long objects) {
    public Inventory {
        named = List.copyOf(named);
    }

    /** Says that a report cannot be used: which file, why, and what to do. */
    public static final class Unusable extends Exception {
        private static final long serialVersionUID = 1L;

        Unusable(String message) {
            super(message);
        }
    }
}
