package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import warden.core.Providers;
import warden.core.mend.Redescribing;
import warden.core.survey.Place;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.gather.aws.template.Templates;

/** The descriptions that a survey was made of, which can be read again with other texts. */
final class Descriptions implements Redescribing.Describing {
    private static final Pattern ACCOUNT = Pattern.compile("[0-9]{12}");
    /** A plan and a state are made by a program from what its owner wrote; to change them is of no use. */
    private static final Pattern MADE =
            Pattern.compile("\\s*\\{[^{}\\[\\]]{0,400}\"(format_version|terraform_version)\"");

    private final TemplateOptions options;
    private final World world;
    private final Optional<String> region;
    private final String takenAt;

    Descriptions(TemplateOptions options, World world, Optional<String> region, String takenAt) {
        this.options = options;
        this.world = world;
        this.region = region;
        this.takenAt = takenAt;
    }

    /**
     * Finds the descriptions that a survey names, with whatever else is given.
     *
     * @throws InputException where they do not say what the survey does
     */
    static Descriptions of(Survey survey, TemplateOptions options, World world, Optional<String> region) {
        Set<String> names = new TreeSet<>();
        for (SurveyLine line : survey.lines()) {
            line.from().map(Place::file).map(Descriptions::source).ifPresent(names::add);
        }
        options.take(names);
        if (ACCOUNT.matcher(survey.header().account()).matches()) {
            options.takeAccount(survey.header().account());
        }
        Descriptions all = new Descriptions(
                options,
                world,
                region.or(() -> regionIn(survey)),
                survey.header().takenAt());
        boolean isSame = names.stream().allMatch(name -> Files.exists(Path.of(name)))
                && Redescribing.saysTheSame(all.read(), survey);
        if (!isSame) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    survey.header().file()
                            + ": the descriptions that it was made of, as they stand here, do not say the same; give them with --template, and"
                            + " what belongs to them with --parameters, --beside, --account and --region, as to the survey");
        }
        return all;
    }

    /** Sources are read by their folder. */
    private static String source(String file) {
        boolean isSource = file.endsWith(".tf") || file.endsWith(".tf.json");
        Path folder = Path.of(file).getParent();
        return !isSource ? file : folder == null ? "." : folder.toString();
    }

    private static Optional<String> regionIn(Survey survey) {
        return survey.subjects("bucket-location").stream()
                .flatMap(of -> survey.reading("bucket-location", of).found().stream())
                .flatMap(body -> body.text("LocationConstraint").stream())
                .filter(name -> !name.startsWith("{"))
                .findFirst();
    }

    /** Makes the survey of the descriptions as they stand. */
    Survey read() {
        return survey(options.make(world, region, takenAt));
    }

    private static Survey survey(Templates.Made made) {
        Survey.Collector lines = new Survey.Collector(
                Providers.named(made.header().provider()).orElseThrow().aspects());
        made.lines().forEach(lines::add);
        return lines.toSurvey(made.header());
    }

    @Override
    public Optional<String> text(String file) {
        try {
            return Optional.of(Files.readString(Path.of(file)))
                    .filter(text -> !MADE.matcher(text).lookingAt());
        } catch (IOException | InvalidPathException elsewhere) {
            return Optional.empty();
        }
    }

    @Override
    public Optional<List<Survey>> read(Map<String, String> instead) {
        try {
            return Optional.of(List.of(survey(options.make(world, region, takenAt, instead))));
        } catch (InputException broken) {
            return Optional.empty();
        }
    }
}
