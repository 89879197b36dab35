package warden.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import picocli.CommandLine;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.UnmatchedArgumentException;
import warden.core.document.Words;

/** Says what is wrong with a command line, and which known word is nearest to one that is not known. */
final class WrongWords {
    private static final Pattern VALUE =
            Pattern.compile("option '([^']*)'.*expected one of \\[(.*)\\].* but was '(.*)'", Pattern.DOTALL);

    private WrongWords() {}

    /** Returns the sentence. */
    static String sentence(ParameterException wrong) {
        String message = Optional.ofNullable(wrong.getMessage()).orElse("the command line is wrong");
        if (wrong instanceof UnmatchedArgumentException unmatched
                && !unmatched.getUnmatched().isEmpty()) {
            String word = unmatched.getUnmatched().get(0);
            return unmatched(word, wrong.getCommandLine());
        }
        Matcher value = VALUE.matcher(message);
        if (value.find()) {
            boolean writesMarkdown = wrong.getCommandLine().getCommand() instanceof OutputOptions.WritesMarkdown;
            List<String> known = Stream.of(value.group(2).split(", "))
                    .filter(word -> writesMarkdown || !word.equals("markdown"))
                    .toList();
            return value.group(1) + " takes " + String.join(", ", known) + ", not \"" + value.group(3) + "\""
                    + Words.perhaps(value.group(3), known).orElse("");
        }
        return message;
    }

    private static String unmatched(String word, CommandLine command) {
        if (word.startsWith("-")) {
            int equals = word.indexOf('=');
            String option = equals < 0 ? word : word.substring(0, equals);
            return "there is no option " + option + " here"
                    + Words.perhaps(option, options(command)).orElse("");
        }
        if (!command.getSubcommands().isEmpty()) {
            return "there is no command \"" + word + "\""
                    + Words.perhaps(
                                    word,
                                    command.getSubcommands().keySet().stream().toList())
                            .orElse("");
        }
        return "\"" + word + "\" is one word too many";
    }

    private static List<String> options(CommandLine command) {
        List<String> names = new ArrayList<>();
        command.getCommandSpec().options().stream()
                .filter(option -> !option.hidden())
                .forEach(option -> names.addAll(List.of(option.names())));
        return names.stream().filter(name -> name.startsWith("--")).toList();
    }
}
