package warden.cli;

import java.util.List;
import warden.gather.aws.AwsAnswerForm;
import warden.gather.aws.pipeline.AwsTools;
import warden.gather.azure.AzureAnswerForm;
import warden.gather.azure.pipeline.AzureTools;
import warden.gather.folder.AnswerForm;
import warden.gather.folder.SavedAnswers;
import warden.gather.pipeline.PipelineReader;

/** What reads for all providers. This is the one list of what each of them has to say for it. */
final class Gatherers {
    private static final List<AnswerForm> FORMS = List.of(new AzureAnswerForm(), new AwsAnswerForm());

    static final PipelineReader PIPELINES = new PipelineReader(List.of(new AwsTools(), new AzureTools()));
    static final SavedAnswers ANSWERS = new SavedAnswers(FORMS);

    private Gatherers() {}

    /** Returns the script that gathers a folder of saved answers of a provider, by its word. */
    static String script(String provider) {
        return FORMS.stream()
                .filter(form -> form.provider().equals(provider))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("no script for " + provider))
                .script()
                .text();
    }
}
