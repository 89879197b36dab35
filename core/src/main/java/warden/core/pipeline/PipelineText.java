package warden.core.pipeline;

import java.util.List;
import warden.core.survey.Citation;

/**
 * The text of a pipeline file, and how to cite a line of it.
 *
 * @param path as it was given, or as the survey names it
 * @param from the reading of a survey that holds the text; for a file of its own, its first line
 * @param inSurvey whether {@code from} is a line of a survey
 */
public record PipelineText(String path, String text, Citation from, boolean inSurvey) {
    /** Returns the text of a file of its own. */
    public static PipelineText ofFile(String path, String text) {
        return new PipelineText(path, text, new Citation(path, 1, "pipeline-file", path, "", ""), false);
    }

    /** Cites a line of the text, counted from 1, by this quotation. */
    public Citation cite(int line, String quote) {
        return inSurvey
                ? from.at("/Text", quote)
                : new Citation(path, Math.max(1, line), "pipeline-file", path, "", quote);
    }

    /** Returns the lines. */
    public List<String> lines() {
        return text.lines().toList();
    }
}
