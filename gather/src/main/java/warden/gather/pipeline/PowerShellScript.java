package warden.gather.pipeline;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.PowerShellReader.Statement;
import warden.gather.pipeline.PowerShellReader.Word;

/**
 * Understands PowerShell scripts: the providers' cmdlets by their tools, and other programs as any script's. Source: PowerShell documentation,
 * "Approved Verbs for PowerShell Commands"; the modules that come with it.
 */
public final class PowerShellScript {
    private static final int DEEPEST = 20;

    /** Cmdlets that change nothing in any cloud, whatever they are given. */
    private static final Pattern HARMLESS = Pattern.compile(
            "(?i)write-(host|output|verbose|warning|error|debug|information|progress|eventlog)|(get|test|join|split|out|select|where|foreach|sort|measure|format|convertto|convertfrom|resolve|start-sleep|"
                    + "new-item|new-object|remove-item|copy-item|move-item|rename-item|set-location|push-location|pop-location|"
                    + "set-content|add-content|clear-content|set-strictmode|set-variable|new-variable|expand-archive|compress-archive|"
                    + "import-module|install-module|uninstall-module|set-psrepository|install-packageprovider|read-host|group-object|"
                    + "tee-object|set-item|add-type)(-.*)?");

    private final JobContext job;
    private final Commands commands;
    private final PowerShellWords words;
    private final List<Cmdlets> cmdlets;
    private int depth;

    private PowerShellScript(JobContext job) {
        this.job = job;
        this.commands = new Commands(job);
        this.words = new PowerShellWords(job.scope());
        this.cmdlets = job.tools().stream()
                .flatMap(each -> each.cmdlets(words, job).stream())
                .toList();
    }

    /**
     * Adds what a script does.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    public static void read(String text, int firstLine, JobContext job) {
        PowerShellScript script = new PowerShellScript(job);
        Statement before = null;
        for (Statement statement : PowerShellReader.read(text, firstLine)) {
            script.statement(statement, Optional.ofNullable(before));
            before = statement;
        }
    }

    private void statement(Statement statement, Optional<Statement> before) {
        job.count();
        if (statement.words().isEmpty()) {
            return;
        }
        Word first = statement.words().get(0);
        if (!statement.assigned().isEmpty()) {
            cmdlets.forEach(each -> each.assigned(statement));
            if (statement.words().size() == 1 && first.inside().isEmpty()) {
                words.assign(statement.assigned(), first);
            }
        }
        String name = first.text().toLowerCase(Locale.ROOT);
        boolean isCommand = name.matches("[a-z][a-z0-9]*-[a-z0-9]+");
        Optional<Cmdlets> own =
                isCommand ? cmdlets.stream().filter(each -> each.isOne(name)).findFirst() : Optional.empty();
        if (own.isPresent()) {
            own.get().call(statement, before);
            return;
        }
        asked(statement);
        if (WebRequest.CMDLETS.contains(name)) {
            Operation operation = WebRequest.of(statement.words(), words).operation(job::isProviders);
            if (operation instanceof Operation.NotUnderstood) {
                job.add(operation, statement.line(), statement.spelled());
            }
            return;
        }
        if (first.inside().isPresent() || PowerShellReader.STEERING.contains(name)) {
            return;
        }
        if (isCommand
                || name.startsWith("$")
                || name.startsWith("[")
                || statement.words().size() == 1 && !statement.assigned().isEmpty()) {
            if (isCommand && !HARMLESS.matcher(name).matches()) {
                job.add(
                        new Operation.NotUnderstood("the cmdlet " + first.text() + " is not known"),
                        statement.line(),
                        statement.spelled());
            }
        } else {
            List<PipelineValue> values =
                    statement.words().stream().map(words::value).toList();
            commands.run(new ShellCommand(statement.line(), statement.spelled(), Map.of(), values));
        }
    }

    /** Reads what stands in brackets. */
    private void within(String inside, Statement statement) {
        if (depth == DEEPEST) {
            job.add(
                    new Operation.NotUnderstood("its brackets are nested too deep"),
                    statement.line(),
                    statement.spelled());
            return;
        }
        depth++;
        PowerShellReader.read(inside, statement.line()).forEach(inner -> statement(inner, Optional.empty()));
        depth--;
    }

    /** What a choice, a loop or another command asks for first is read for what it does; what it steers follows by itself. */
    private void asked(Statement statement) {
        List<Word> all = statement.words();
        for (int i = 0; i < all.size(); i++) {
            Optional<String> inside = all.get(i).inside();
            boolean calls =
                    inside.isPresent() && (i == 0 || cmdlets.stream().anyMatch(each -> each.mayStandIn(inside.get())));
            if (calls) {
                within(inside.get(), statement);
            } else if (i > 0
                    && all.get(i - 1).text().equalsIgnoreCase("in")
                    && all.get(0).text().startsWith("$")) {
                List<Word> rest = all.subList(i, all.size());
                statement(new Statement(statement.line(), statement.spelled(), "", false, rest), Optional.empty());
            }
        }
    }
}
