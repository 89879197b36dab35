package warden.gather.folder;

import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.document.DisplayText;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;

/** Reads a folder of answers that a provider's official command line printed: {@code ASPECT__SUBJECT.json} and {@code .error}. */
public final class SavedAnswers {
    /** The script's last deed. */
    private static final String COMPLETE = ".complete";
    /** Who asked, as a survey's header says it. */
    private static final String TAKEN_BY = ".taken-by";

    /** What a survey's header says where nobody noted who asked. */
    private static final String UNNOTED = "saved answers";

    private static final Pattern NAME = Pattern.compile("([a-z0-9-]+)__(.+?)(\\.page\\d+)?\\.(json|error)");

    private final List<AnswerForm> forms;

    /**
     * Makes a reader.
     *
     * @param forms in the order in which they are asked whether a subject is theirs; the last takes all that is left
     */
    public SavedAnswers(List<AnswerForm> forms) {
        this.forms = List.copyOf(forms);
    }

    /**
     * A survey as its parts.
     *
     * @param isWhole whether the script that asks says that it came to its end
     */
    public record Gathered(SurveyHeader header, List<SurveyLine> readings, boolean isWhole) {
        public Gathered {
            readings = List.copyOf(readings);
        }
    }

    private static String subject(Path file, String encoded) throws SurveyException {
        try {
            return URLDecoder.decode(encoded.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException notEncoded) {
            throw new SurveyException(
                    file.toString(),
                    "its name is no percent-encoding of a subject; the script of \"gentle-warden survey --script\" names files so");
        }
    }

    /**
     * Reads a folder, in the order of the names of its files.
     *
     * @param takenAt what the survey says of when it was taken
     * @throws SurveyException when a file is no answer; the message names it
     */
    public Gathered read(Path folder, String takenAt) throws SurveyException {
        if (!Files.isDirectory(folder)) {
            throw new SurveyException(folder.toString(), "there is no such folder of saved answers");
        }
        List<SurveyLine> readings = new ArrayList<>();
        Set<String> answered = new HashSet<>();
        String account = "";
        Set<AnswerForm> met = new HashSet<>();
        for (Path file : files(folder)) {
            Matcher name = NAME.matcher(file.getFileName().toString());
            if (!name.matches()) {
                continue;
            }
            String aspect = name.group(1);
            String of = subject(file, name.group(2));
            String text = text(file);
            AnswerForm form = formOf(file, of);
            met.add(form);
            String own = form.account(aspect, of).orElse(account);
            if (!account.isEmpty() && !account.equals(own)) {
                throw new SurveyException(
                        folder.toString(),
                        "the folder holds answers of the accounts " + DisplayText.name(account) + " and "
                                + DisplayText.name(own) + "; keep a folder for each");
            }
            account = own;
            if (name.group(3) == null && !answered.add(aspect + " " + of)) {
                throw new SurveyException(
                        file.toString(),
                        "there is an answer and a refusal for the same question; keep the one that is true");
            }
            if (name.group(4).equals("error")) {
                readings.add(form.refusal(aspect, of, text));
            } else {
                readings.addAll(
                        form.answer(aspect, of, text)
                                .orElseThrow(
                                        () -> new SurveyException(
                                                file.toString(),
                                                "this is not the JSON that the command line prints; take the answer again with --output json")));
            }
        }
        if (readings.isEmpty()) {
            throw new SurveyException(
                    folder.toString(),
                    "the folder holds no saved answers; \"gentle-warden survey --script\" prints a script that makes some");
        }
        AnswerForm form = forms.stream().filter(met::contains).findFirst().orElseThrow();
        String takenBy = form.notesWhoAsks() ? takenBy(folder) : UNNOTED;
        return new Gathered(
                new SurveyHeader(folder.toString(), form.provider(), account, takenAt, takenBy),
                readings,
                Files.exists(folder.resolve(COMPLETE)));
    }

    private AnswerForm formOf(Path file, String subject) throws SurveyException {
        return forms.stream()
                .filter(form -> form.isAbout(subject))
                .findFirst()
                .orElseThrow(() -> new SurveyException(
                        file.toString(), "its name tells no subject of a provider that is known; leave it out"));
    }

    /** The script notes who asks, so that it can be told whether its lists are whole. */
    private static String takenBy(Path folder) throws SurveyException {
        Path file = folder.resolve(TAKEN_BY);
        return Files.exists(file) ? text(file).strip() : UNNOTED;
    }

    private static List<Path> files(Path folder) throws SurveyException {
        try (Stream<Path> entries = Files.list(folder)) {
            return entries.filter(Files::isRegularFile).sorted().toList();
        } catch (IOException unreadable) {
            throw new SurveyException(folder.toString(), "the folder cannot be read (" + unreadable.getMessage() + ")");
        }
    }

    private static String text(Path file) throws SurveyException {
        try {
            return Files.readString(file);
        } catch (CharacterCodingException notText) {
            throw new SurveyException(file.toString(), "this is not UTF-8 text; take the answer again");
        } catch (IOException unreadable) {
            throw new SurveyException(file.toString(), "the file cannot be read (" + unreadable.getMessage() + ")");
        }
    }
}
