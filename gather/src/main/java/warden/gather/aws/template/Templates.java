package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiFunction;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import warden.core.document.DisplayText;
import warden.core.document.JsonMembers;
import warden.core.document.Words;
import warden.core.survey.Survey;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;

/** Makes a survey of descriptions. */
public final class Templates {
    private static final String PROVIDER = "aws";
    private static final Pattern BEGINS_OBJECT = Pattern.compile("\\s*\\{");

    private Templates() {}

    /**
     * A description: a template, a plan, a state.
     *
     * @param file its name, as given
     * @param isFolder true for a folder of sources, which has no text of its own
     */
    public record Source(String file, String text, boolean isFolder) {}

    /** Reads the files of a folder, by the folder's name. */
    public interface Folders {
        /** Returns the sources of a folder, by name; absent where there is none. */
        Optional<Map<String, String>> sources(String folder);

        /** Returns the files of values that lie in a folder, in the order in which they count. */
        default Map<String, String> values(String folder) {
            return Map.of();
        }

        /** Returns a file's text, by its folder and name; absent where there is none. */
        Optional<String> file(String folder, String name);
    }

    /**
     * What is given beside the descriptions.
     *
     * @param account the account's number; absent where nothing tells it
     * @param region absent where nothing tells it
     * @param parameters files of parameters, by name
     * @param beside the survey of the account over which the descriptions are laid
     * @param neighbours reads a file that lies beside a description, by the description's name and the file's; absent where there is none
     * @param folders reads folders of sources
     */
    public record Given(
            Optional<String> account,
            Optional<String> region,
            List<Source> parameters,
            Optional<Survey> beside,
            BiFunction<String, String, Optional<String>> neighbours,
            Folders folders) {
        public Given {
            parameters = List.copyOf(parameters);
        }
    }

    /**
     * What came of it.
     *
     * @param notes what a person should know, a sentence each
     */
    public record Made(SurveyHeader header, List<SurveyLine> lines, List<String> notes) {
        public Made {
            lines = List.copyOf(lines);
            notes = List.copyOf(notes);
        }
    }

    /**
     * Makes the survey.
     *
     * @param takenAt what the header says of the time
     * @throws TemplateException for a description that cannot be read, or from which nothing comes
     */
    public static Made make(List<Source> sources, Given given, String takenAt) throws TemplateException {
        Optional<Beside> beside = given.beside().map(Beside::new);
        Optional<String> account = given.account()
                .or(() -> given.beside().map(survey -> survey.header().account()));
        Description all = new Description(account, given.region(), of -> beside.filter(each -> each.has(of))
                .isPresent());
        beside.ifPresent(each -> all.knowZones(each.zones()));
        Map<String, Object> parameters = new LinkedHashMap<>();
        for (Source file : given.parameters()) {
            parameters.putAll(values(file.file(), file.text(), all));
        }
        Set<String> names = new TreeSet<>();
        boolean hasTemplate = false;
        List<TfResource> resources = new ArrayList<>();
        for (Source source : sources) {
            if (source.isFolder()) {
                Map<String, Object> values = values(source.file(), parameters, given, all);
                HclModule root = new HclModule(source.file(), "", given.folders(), all, values, 0).load();
                names.addAll(root.variableNames());
                hasTemplate = true;
                resources.addAll(root.resources());
                continue;
            }
            Optional<Map<String, String>> json =
                    BEGINS_OBJECT.matcher(source.text()).lookingAt() ? JsonMembers.of(source.text()) : Optional.empty();
            if (json.filter(Templates::isOfAnotherProvider).isPresent()) {
                throw new TemplateException(
                        source.file(),
                        "this is a template of another provider; templates are read of the first one only");
            }
            if (json.filter(TfPlan::isOne).isPresent()) {
                resources.addAll(TfPlan.read(source.file(), source.text(), json.get(), all));
            } else {
                hasTemplate = true;
                CfnNode root = CfnFile.read(source.file(), source.text());
                if (root.get("Resources") == null) {
                    throw new TemplateException(
                            source.file(),
                            root.line(),
                            1,
                            "this has no Resources, so it is no template; nor is it a plan or a state");
                }
                CfnResources template = new CfnResources(source.file(), root, parameters, all, given.neighbours(), 0);
                names.addAll(template.parameterNames());
                template.describe();
            }
        }
        if (!resources.isEmpty()) {
            new TfDescription(all, resources).describe();
        }
        if (hasTemplate) {
            demandKnown(given, parameters, names);
        }
        all.complete();
        all.demandSingle();
        if (all.isEmpty()) {
            throw new TemplateException(sources.get(0).file(), "nothing in this concerns a site" + said(all.notes()));
        }
        return new Made(
                new SurveyHeader(sources.get(0).file(), PROVIDER, all.account(), takenAt, "", List.of(), "", true),
                withStrangers(beside.map(each -> each.under(all)).orElseGet(all::lines), all),
                all.notes());
    }

    /** Adds those to whom something is given, and of whom nothing else is known. */
    private static List<SurveyLine> withStrangers(List<SurveyLine> lines, Description all) {
        List<SurveyLine> more = new ArrayList<>(lines);
        more.addAll(all.holdings().strangers(lines, all));
        return more;
    }

    /** Returns the values of a folder's variables: those of its own files, and over them those that were given. */
    private static Map<String, Object> values(String folder, Map<String, Object> given, Given settings, Description all)
            throws TemplateException {
        Map<String, Object> values = new LinkedHashMap<>();
        for (Map.Entry<String, String> file : settings.folders().values(folder).entrySet()) {
            values.putAll(values(file.getKey(), file.getValue(), all));
        }
        values.putAll(given);
        return values;
    }

    private static Map<String, Object> values(String file, String text, Description all) throws TemplateException {
        if (!file.endsWith(".tfvars")) {
            return TemplateParameters.read(file, text);
        }
        Map<String, Object> values = new LinkedHashMap<>();
        for (Map.Entry<String, Hcl.Attribute> value :
                HclReader.values(file, text).entrySet()) {
            values.put(value.getKey(), HclModule.constant(value.getValue().value(), all));
        }
        return values;
    }

    private static String said(List<String> notes) {
        return notes.isEmpty() ? "" : ": " + String.join("; ", notes);
    }

    private static boolean isOfAnotherProvider(Map<String, String> members) {
        return members.getOrDefault("$schema", "").contains("deploymentTemplate");
    }

    private static void demandKnown(Given given, Map<String, Object> parameters, Set<String> names)
            throws TemplateException {
        Set<String> unknown = new LinkedHashSet<>(parameters.keySet());
        unknown.removeAll(names);
        if (!unknown.isEmpty()) {
            String name = unknown.iterator().next();
            @Nullable String near = Words.nearest(name, names).orElse(null);
            throw new TemplateException(
                    given.parameters().get(0).file(),
                    "no template has the parameter \"" + DisplayText.name(name) + "\""
                            + (near == null ? "" : "; perhaps it means \"" + near + "\""));
        }
    }
}
