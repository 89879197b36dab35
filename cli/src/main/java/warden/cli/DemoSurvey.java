package warden.cli;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.aws.survey.AwsAspects;
import warden.core.azure.survey.AzureAspects;
import warden.core.survey.Aspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.gather.aws.LiveSettings;
import warden.gather.aws.LiveSurvey;
import warden.gather.azure.AzureSettings;
import warden.gather.azure.AzureSurvey;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;
import warden.standin.aws.StandIn;
import warden.standin.azure.AzureStandIn;

/** The demo company's survey, taken anew over the network. */
final class DemoSurvey {
    static final String FILE = "demo/heron-sound-ferries.ndjson";
    /** What the company has at the second provider. */
    static final String QUAYSIDE = "demo/heron-sound-quayside.ndjson";
    /** Aspects that no call of the provider gives: they come from the owner's own files. */
    private static final Set<String> FROM_FILES = Set.of("pipeline-file");

    /** The client id of the principal that surveys the second provider. */
    private static final String SURVEYOR = "33333333-4444-4555-8666-777777777777";

    private static final int PARALLEL = 16;
    private static final int OBJECTS = 1_000;

    private DemoSurvey() {}

    /** Returns the survey that the program carries, which the stand-in is loaded from. */
    static String text() {
        return text(FILE);
    }

    /** Returns the survey of the second provider that the program carries. */
    static String quaysideText() {
        return text(QUAYSIDE);
    }

    private static String text(String file) {
        try (InputStream in = DemoSurvey.class.getClassLoader().getResourceAsStream(file)) {
            if (in == null) {
                throw new IllegalStateException("the demo survey is not in the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException damaged) {
            throw new IllegalStateException("the demo survey cannot be read", damaged);
        }
    }

    /** What a survey of the stand-in gave, and how many readings came over the network. */
    record Taken(Survey survey, int readings) {}

    /**
     * Surveys the stand-in. The readings are put in the order of the carried file and cited by its lines, where the same documents stand, so
     * that evidence can be looked up; threads decide in which order answers come.
     *
     * @param at when it is taken
     */
    static Taken take(StandIn standIn, Instant at) throws SurveyException, LiveException, IOException {
        SurveyHeader shipped = SurveyReader.read(stream(text()), FILE, line -> {});
        return inOrder(FILE, text(), overNetwork(standIn, shipped), AwsAspects.TABLE, at);
    }

    /** Surveys the stand-in of the second provider, as whoever took the carried survey. */
    static Taken takeQuayside(AzureStandIn standIn, Instant at) throws SurveyException, LiveException, IOException {
        StringWriter out = new StringWriter();
        ReadingLog log = new ReadingLog(out, Set.of(), (done, due) -> {});
        AzureSettings settings = new AzureSettings(
                Optional.empty(),
                Optional.of(standIn.endpoint()),
                Optional.of(standIn.authority()),
                PARALLEL,
                OBJECTS,
                Optional.empty(),
                Optional.of(new AzureSettings.SimulatedClient(SURVEYOR, "heron-sound")));
        try (AzureSurvey survey = new AzureSurvey(settings, log)) {
            log.header(survey.begin(QUAYSIDE, at.toString()));
            survey.run();
        }
        return inOrder(QUAYSIDE, quaysideText(), out.toString(), AzureAspects.TABLE, at);
    }

    private static Taken inOrder(String file, String text, String overNetwork, Aspects aspects, Instant at)
            throws SurveyException, IOException {
        List<SurveyLine> carried = new ArrayList<>();
        SurveyHeader shipped = SurveyReader.read(stream(text), file, carried::add);
        List<SurveyLine> answers = new ArrayList<>();
        SurveyReader.read(stream(overNetwork), file, answers::add);

        Map<String, List<SurveyLine>> bySubject = new LinkedHashMap<>();
        answers.forEach(line -> bySubject
                .computeIfAbsent(subject(line), key -> new ArrayList<>())
                .add(line));
        Survey.Collector collector = new Survey.Collector(aspects);
        for (SurveyLine line : carried) {
            if (FROM_FILES.contains(line.aspect())) {
                collector.add(line);
                continue;
            }
            List<SurveyLine> pages = bySubject.remove(subject(line));
            if (pages != null) {
                pages.forEach(page -> collector.add(at(file, line.line(), page)));
            }
        }
        int next = carried.size() + 2;
        for (List<SurveyLine> pages : bySubject.values()) {
            for (SurveyLine page : pages) {
                collector.add(at(file, next++, page));
            }
        }
        SurveyHeader today =
                new SurveyHeader(file, shipped.provider(), shipped.account(), at.toString(), shipped.takenBy());
        return new Taken(collector.toSurvey(today), answers.size());
    }

    private static String overNetwork(StandIn standIn, SurveyHeader shipped) throws LiveException, IOException {
        StringWriter out = new StringWriter();
        LiveSettings settings = new LiveSettings(
                Optional.empty(),
                Optional.of("eu-west-1"),
                Optional.of(standIn.endpoint()),
                PARALLEL,
                OBJECTS,
                OBJECTS,
                Optional.empty(),
                Optional.of(StandIn.keyOf("arn:aws:iam::" + shipped.account() + ":root")));
        ReadingLog log = new ReadingLog(out, Set.of(), (done, due) -> {});
        try (LiveSurvey survey = new LiveSurvey(settings, log)) {
            log.header(survey.begin(FILE, shipped.takenAt()));
            survey.run();
        }
        return out.toString();
    }

    private static SurveyLine at(String file, int number, SurveyLine line) {
        return new SurveyLine(file, number, line.aspect(), line.of(), line.call(), line.outcome(), line.body());
    }

    private static String subject(SurveyLine line) {
        return line.aspect() + " " + line.of();
    }

    private static InputStream stream(String text) {
        return new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
    }
}
