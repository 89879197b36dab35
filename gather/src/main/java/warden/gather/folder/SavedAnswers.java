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
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.aws.survey.AwsAspects;
import warden.core.aws.survey.Permissions;
import warden.core.azure.survey.AzureAspects;
import warden.core.document.DisplayText;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.survey.Aspects;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/** Reads a folder of answers that the provider's official command line printed: {@code ASPECT__SUBJECT.json} and {@code .error}. */
public final class SavedAnswers {
    /** The script's last deed. */
    private static final String COMPLETE = ".complete";
    /** Who asked, as a survey's header says it. */
    private static final String TAKEN_BY = ".taken-by";

    private static final String SUBSCRIPTIONS = "/subscriptions/";
    private static final List<String> DIRECTORY =
            List.of("serviceprincipals/", "applications/", "users/", "groups/", "/providers/microsoft.");

    private static final Pattern NAME = Pattern.compile("([a-z0-9-]+)__(.+?)(\\.page\\d+)?\\.(json|error)");
    private static final Pattern CODE = Pattern.compile("An error occurred \\(([A-Za-z0-9.]+)\\)");
    private static final List<String> BY_ELEMENT = List.of("iam-user", "iam-group", "iam-role", "iam-policy");

    private SavedAnswers() {}

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
    public static Gathered read(Path folder, String takenAt) throws SurveyException {
        if (!Files.isDirectory(folder)) {
            throw new SurveyException(folder.toString(), "there is no such folder of saved answers");
        }
        List<SurveyLine> readings = new ArrayList<>();
        Set<String> answered = new HashSet<>();
        String account = "";
        boolean isAzure = false;
        for (Path file : files(folder)) {
            Matcher name = NAME.matcher(file.getFileName().toString());
            if (!name.matches()) {
                continue;
            }
            String aspect = name.group(1);
            String of = subject(file, name.group(2));
            String text = text(file);
            isAzure |= of.toLowerCase(Locale.ROOT).startsWith(SUBSCRIPTIONS);
            if (aspect.equals("subscription") || aspect.equals("storage-account-list")) {
                account = of.substring(of.lastIndexOf('/') + 1);
            }
            if (aspect.equals("bucket-list") || aspect.equals("account-public-access")) {
                if (!account.isEmpty() && !account.equals(of)) {
                    throw new SurveyException(
                            folder.toString(),
                            "the folder holds answers of the accounts " + DisplayText.name(account) + " and "
                                    + DisplayText.name(of) + "; keep a folder for each");
                }
                account = of;
            }
            if (name.group(3) == null && !answered.add(aspect + " " + of)) {
                throw new SurveyException(
                        file.toString(),
                        "there is an answer and a refusal for the same question; keep the one that is true");
            }
            if (name.group(4).equals("error")) {
                readings.add(refused(aspect, of, text));
            } else {
                add(file, aspect, of, text, readings);
            }
        }
        if (readings.isEmpty()) {
            throw new SurveyException(
                    folder.toString(),
                    "the folder holds no saved answers; \"gentle-warden survey --script\" prints a script that makes some");
        }
        return new Gathered(
                new SurveyHeader(
                        folder.toString(),
                        isAzure ? "azure" : "aws",
                        account,
                        takenAt,
                        isAzure ? takenBy(folder) : "saved answers"),
                readings,
                Files.exists(folder.resolve(COMPLETE)));
    }

    /** The script notes who asks, so that it can be told whether its lists are whole. */
    private static String takenBy(Path folder) throws SurveyException {
        Path file = folder.resolve(TAKEN_BY);
        return Files.exists(file) ? text(file).strip() : "saved answers";
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

    private static SurveyLine refused(String aspect, String of, String said) {
        Matcher code = CODE.matcher(said);
        boolean isAzure = isAzure(of);
        String word = isAzure ? AzureAnswers.code(said).orElse("Failed") : code.find() ? code.group(1) : "Failed";
        Aspects aspects = isAzure ? AzureAspects.TABLE : AwsAspects.TABLE;
        String call = isAzure ? "arm:GET" : aspects.permission(aspect);
        if (aspects.meansAbsent(aspect, word)) {
            return new SurveyLine("", 1, aspect, of, call, Outcome.ABSENT, word);
        }
        String plain = DisplayText.clean(said.strip());
        String shown = plain.length() > 300 ? plain.substring(0, 300) + "…" : plain;
        return new SurveyLine(
                "", 1, aspect, of, call, Outcome.UNREAD, Json.text(Json.object("code", word, "message", shown)));
    }

    private static void add(Path file, String aspect, String of, String text, List<SurveyLine> readings)
            throws SurveyException {
        if (isAzure(of)) {
            String document = AzureAnswers.document(aspect, text)
                    .orElseThrow(
                            () -> new SurveyException(
                                    file.toString(),
                                    "this is not the JSON that the command line prints; take the answer again with --output json"));
            readings.add(new SurveyLine("", 1, aspect, of, "arm:GET", Outcome.FOUND, document));
            return;
        }
        String body = text.isBlank() ? "{}" : text;
        JsonReader.Result read = JsonReader.read(body);
        Optional<JsonPart> root = read.root();
        if (root.isEmpty() || !(root.get() instanceof JsonPart.JsonObject)) {
            throw new SurveyException(
                    file.toString(),
                    "this is not the JSON that the command line prints; take the answer again with --output json");
        }
        String call = Permissions.toRead(aspect);
        if (aspect.equals("iam-details")) {
            elements(root.get(), readings);
            return;
        }
        boolean noLocation = aspect.equals("bucket-location")
                && root.get().text("LocationConstraint").isEmpty();
        readings.add(new SurveyLine(
                "",
                1,
                aspect,
                of,
                call,
                Outcome.FOUND,
                Json.text(noLocation ? Json.object("LocationConstraint", null) : root.get())));
    }

    private static boolean isAzure(String of) {
        String lower = of.toLowerCase(Locale.ROOT);
        return lower.startsWith(SUBSCRIPTIONS) || DIRECTORY.stream().anyMatch(lower::startsWith);
    }

    /** The answer about all identities at once becomes a reading for each. */
    private static void elements(JsonPart details, List<SurveyLine> readings) {
        List<String> members = List.of("UserDetailList", "GroupDetailList", "RoleDetailList", "Policies");
        for (int i = 0; i < members.size(); i++) {
            String aspect = BY_ELEMENT.get(i);
            details.list(members.get(i)).forEach(element -> element.text("Arn")
                    .ifPresent(arn -> readings.add(new SurveyLine(
                            "", 1, aspect, arn, Permissions.toRead(aspect), Outcome.FOUND, JsonSpelling.of(element)))));
        }
    }
}
