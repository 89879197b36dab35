package warden.gather.pipeline;

import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.codehaus.groovy.ast.ModuleNode;
import org.codehaus.groovy.ast.expr.BinaryExpression;
import org.codehaus.groovy.ast.expr.ClosureExpression;
import org.codehaus.groovy.ast.expr.ConstantExpression;
import org.codehaus.groovy.ast.expr.DeclarationExpression;
import org.codehaus.groovy.ast.expr.Expression;
import org.codehaus.groovy.ast.expr.GStringExpression;
import org.codehaus.groovy.ast.expr.ListExpression;
import org.codehaus.groovy.ast.expr.MapEntryExpression;
import org.codehaus.groovy.ast.expr.MapExpression;
import org.codehaus.groovy.ast.expr.MethodCallExpression;
import org.codehaus.groovy.ast.expr.PropertyExpression;
import org.codehaus.groovy.ast.expr.TupleExpression;
import org.codehaus.groovy.ast.expr.VariableExpression;
import org.codehaus.groovy.ast.stmt.BlockStatement;
import org.codehaus.groovy.ast.stmt.ExpressionStatement;
import org.codehaus.groovy.ast.stmt.ForStatement;
import org.codehaus.groovy.ast.stmt.IfStatement;
import org.codehaus.groovy.ast.stmt.ReturnStatement;
import org.codehaus.groovy.ast.stmt.Statement;
import org.codehaus.groovy.ast.stmt.TryCatchStatement;
import org.codehaus.groovy.ast.stmt.WhileStatement;
import org.codehaus.groovy.control.CompilationFailedException;
import org.codehaus.groovy.control.MultipleCompilationErrorsException;
import org.codehaus.groovy.control.SourceUnit;
import org.codehaus.groovy.control.messages.SyntaxErrorMessage;
import warden.core.document.DisplayText;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Trigger;

/**
 * Reads the pipeline file of a build server, declarative or scripted. The text is parsed only: no class is made of it, and no annotation in it
 * is acted on. Source: Jenkins User Handbook, "Pipeline Syntax".
 */
final class JenkinsPipeline {
    private static final int DEEPEST = 60;
    private static final int MOST_OPERATORS = 300;
    private static final String OPERATORS = "*+-%<>&|^!~?=$";

    private static final Set<String> GROUPS = Set.of(
            "pipeline",
            "stages",
            "stage",
            "steps",
            "node",
            "script",
            "parallel",
            "post",
            "always",
            "success",
            "dir",
            "timeout",
            "retry",
            "timestamps",
            "ansiColor",
            "container",
            "docker",
            "withEnv",
            "catchError",
            "lock",
            "failure",
            "cleanup",
            "unstable",
            "changed",
            "matrix",
            "axes",
            "inside",
            "sshagent",
            "configFileProvider",
            "nodejs",
            "ws",
            "waitUntil");
    private static final Set<String> SETTINGS = Set.of(
            "agent",
            "options",
            "tools",
            "when",
            "parameters",
            "input",
            "libraries",
            "triggers",
            "environment",
            "any",
            "none",
            "label",
            "image",
            "echo",
            "stash",
            "unstash",
            "archiveArtifacts",
            "junit",
            "cleanWs",
            "deleteDir",
            "error",
            "properties",
            "writeFile",
            "readFile",
            "readJSON",
            "mail",
            "emailext",
            "slackSend",
            "sleep",
            "milestone",
            "build_description",
            "library",
            "publishHTML",
            "fileExists",
            "pwd",
            "isUnix",
            "tool",
            "println",
            "print",
            "unzip",
            "zip",
            "findFiles",
            "string",
            "choice",
            "booleanParam",
            "env",
            "branch",
            "cron",
            "pollSCM",
            "credentials",
            "buildDiscarder",
            "logRotator",
            "disableConcurrentBuilds",
            "skipDefaultCheckout",
            "usernamePassword",
            "file");

    private final PipelineText text;
    private final java.util.List<Trigger> triggers = new java.util.ArrayList<>();

    private JenkinsPipeline(PipelineText text) {
        this.text = text;
    }

    static Pipeline read(PipelineText text, JobContext begin) {
        if (isTooDeep(text.text())) {
            return Pipeline.unreadable(text, Pipeline.Kind.JENKINS_PIPELINE, 1, "it is nested too deep for a pipeline");
        }
        ModuleNode module;
        try {
            module = parsed(text.text());
        } catch (MultipleCompilationErrorsException broken) {
            return Pipeline.unreadable(
                    text, Pipeline.Kind.JENKINS_PIPELINE, line(broken), "this is not valid Groovy: " + message(broken));
        } catch (CompilationFailedException | StackOverflowError | AssertionError broken) {
            return Pipeline.unreadable(text, Pipeline.Kind.JENKINS_PIPELINE, 1, "this is not Groovy that can be read");
        }
        JenkinsPipeline reader = new JenkinsPipeline(text);
        JobContext top = begin.job("", begin.scope().inner());
        top.scope().set("WORKSPACE", PipelineValue.of("."));
        reader.statement(module.getStatementBlock(), top);
        module.getMethods().stream()
                .filter(method -> method.getLineNumber() > 0)
                .forEach(method -> reader.statement(method.getCode(), top));
        return new Pipeline(
                text.path(),
                Pipeline.Kind.JENKINS_PIPELINE,
                text,
                Optional.empty(),
                reader.triggers,
                List.of(),
                begin.steps());
    }

    /** The parser writes what it does not understand on standard error by itself, where only this program's own sentences belong. */
    private static synchronized ModuleNode parsed(String text) {
        PrintStream error = System.err;
        System.setErr(new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8));
        try {
            SourceUnit unit = SourceUnit.create("pipeline", text);
            unit.parse();
            unit.completePhase();
            unit.nextPhase();
            unit.convert();
            return unit.getAST();
        } finally {
            System.setErr(error);
        }
    }

    /**
     * The parser's time grows faster than in proportion with brackets that stay open, and with the operators of one expression; what stands in
     * texts counts too.
     */
    private static boolean isTooDeep(String text) {
        int open = 0;
        int operators = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '(' || c == '[' || c == '{') {
                open++;
            } else if (c == ')' || c == ']' || c == '}') {
                open = Math.max(0, open - 1);
            } else if (c == ';' || (c == '\n' && i > 0 && OPERATORS.indexOf(text.charAt(i - 1)) < 0)) {
                operators = 0;
            } else if (OPERATORS.indexOf(c) >= 0) {
                operators++;
            }
            if (open > DEEPEST || operators > MOST_OPERATORS) {
                return true;
            }
        }
        return false;
    }

    private static int line(MultipleCompilationErrorsException broken) {
        return broken.getErrorCollector().getErrors().stream()
                .filter(SyntaxErrorMessage.class::isInstance)
                .map(error -> ((SyntaxErrorMessage) error).getCause().getLine())
                .findFirst()
                .orElse(1);
    }

    private static String message(MultipleCompilationErrorsException broken) {
        return broken.getErrorCollector().getErrors().stream()
                .filter(SyntaxErrorMessage.class::isInstance)
                .map(error ->
                        DisplayText.name(((SyntaxErrorMessage) error).getCause().getOriginalMessage()))
                .findFirst()
                .orElse("it cannot be parsed");
    }

    private void statement(Statement statement, JobContext here) {
        if (statement instanceof BlockStatement block) {
            block.getStatements().forEach(each -> statement(each, here));
        } else if (statement instanceof ExpressionStatement single) {
            expression(single.getExpression(), here);
        } else if (statement instanceof ReturnStatement result) {
            expression(result.getExpression(), here);
        } else if (statement instanceof IfStatement choice) {
            statement(choice.getIfBlock(), here);
            statement(choice.getElseBlock(), here);
        } else if (statement instanceof ForStatement loop) {
            statement(loop.getLoopBlock(), here);
        } else if (statement instanceof WhileStatement loop) {
            statement(loop.getLoopBlock(), here);
        } else if (statement instanceof TryCatchStatement attempt) {
            statement(attempt.getTryStatement(), here);
            attempt.getCatchStatements().forEach(each -> statement(each.getCode(), here));
            statement(attempt.getFinallyStatement(), here);
        }
    }

    private void expression(Expression expression, JobContext here) {
        if (expression instanceof MethodCallExpression call) {
            call(call, here);
        } else if (expression instanceof DeclarationExpression declared) {
            set(declared.getLeftExpression(), declared.getRightExpression(), here);
        } else if (expression instanceof BinaryExpression assigned
                && assigned.getOperation().getText().equals("=")) {
            set(assigned.getLeftExpression(), assigned.getRightExpression(), here);
        } else if (expression instanceof ClosureExpression closure) {
            statement(closure.getCode(), here);
        }
    }

    private void set(Expression left, Expression right, JobContext here) {
        if (right instanceof MethodCallExpression call
                && !call.getMethodAsString().equals("credentials")) {
            call(call, here);
        }
        String name = left instanceof PropertyExpression property ? property.getPropertyAsString() : left.getText();
        here.scope().set(name, term(right, here.scope()));
    }

    /** The arguments of a call, sorted. */
    private record Arguments(
            Map<String, Expression> named, List<Expression> positional, Optional<ClosureExpression> closure) {
        static Arguments of(Expression arguments) {
            Map<String, Expression> named = new LinkedHashMap<>();
            List<Expression> positional = new java.util.ArrayList<>();
            ClosureExpression closure = null;
            List<Expression> all =
                    arguments instanceof TupleExpression tuple ? tuple.getExpressions() : List.of(arguments);
            for (Expression each : all) {
                if (each instanceof ClosureExpression block) {
                    closure = block;
                } else if (each instanceof MapExpression map) {
                    for (MapEntryExpression entry : map.getMapEntryExpressions()) {
                        named.put(entry.getKeyExpression().getText(), entry.getValueExpression());
                    }
                } else {
                    positional.add(each);
                }
            }
            return new Arguments(named, positional, Optional.ofNullable(closure));
        }
    }

    private void call(MethodCallExpression call, JobContext here) {
        String name = String.valueOf(call.getMethodAsString());
        Arguments arguments = Arguments.of(call.getArguments());
        int line = call.getLineNumber();
        switch (name) {
            case "sh", "bat", "powershell", "pwsh" -> shell(name, arguments, line, here);
            case "environment" -> arguments.closure().ifPresent(block -> statement(block.getCode(), here));
            case "stage" -> {
                String stage = arguments.positional().isEmpty()
                        ? ""
                        : term(arguments.positional().get(0), here.scope()).text();
                arguments
                        .closure()
                        .ifPresent(block -> statement(
                                block.getCode(), here.job(stage, here.scope().inner())));
            }
            case "dir" -> {
                JobContext inside = here.within(here.scope().inner());
                arguments.positional().stream()
                        .findFirst()
                        .ifPresent(path -> inside.enter(term(path, here.scope()).text()));
                arguments.closure().ifPresent(block -> statement(block.getCode(), inside));
            }
            case "withEnv" -> withVariables(arguments, here);
            case "checkout", "git" -> here.add(new Operation.Checkout(""), line, source(line));
            case "triggers" -> arguments.closure().ifPresent(block -> triggers.add(new Trigger("triggers", line)));
            default -> other(name, arguments, call, line, here);
        }
    }

    /** A step of a plug-in, or a block of steps: by what those within work is told by the plug-in's own step. */
    private void other(String name, Arguments arguments, MethodCallExpression call, int line, JobContext here) {
        boolean onObject = !call.isImplicitThis();
        JobContext inside =
                arguments.closure().isPresent() ? here.within(here.scope().inner()) : here;
        ServerStep step = new ServerStep(
                name,
                argument ->
                        Optional.ofNullable(arguments.named().get(argument)).map(value -> term(value, here.scope())),
                bindings(arguments),
                here,
                inside,
                line,
                source(line));
        boolean isProviders = here.tools().stream().anyMatch(tools -> tools.serverStep(step));
        JobContext within = isProviders ? inside : here;
        arguments.closure().ifPresent(block -> statement(block.getCode(), within));
        arguments.named().values().stream()
                .filter(ClosureExpression.class::isInstance)
                .forEach(block -> statement(((ClosureExpression) block).getCode(), here));
        // What an object of a library does is known by no name; most calls on objects only work with texts.
        boolean known = isProviders
                || onObject && !Programs.mayPublish(name)
                || GROUPS.contains(name)
                || SETTINGS.contains(name)
                || arguments.closure().isPresent();
        if (!known) {
            here.add(new Operation.NotUnderstood("the step " + name + " is not known"), line, source(line));
        }
    }

    private static String bindings(Arguments arguments) {
        return arguments.positional().stream().map(Expression::getText).reduce("", String::concat);
    }

    private void shell(String name, Arguments arguments, int line, JobContext here) {
        Expression script = arguments.named().containsKey("script")
                ? arguments.named().get("script")
                : arguments.positional().isEmpty()
                        ? null
                        : arguments.positional().get(0);
        if (script == null) {
            return;
        }
        if (name.equals("powershell") || name.equals("pwsh")) {
            PowerShellScript.read(
                    shellText(script, here.scope()),
                    script.getLineNumber(),
                    here.within(here.scope().inner()));
            return;
        }
        if (!name.equals("sh")) {
            here.add(
                    new Operation.NotUnderstood("scripts in another language than the shell's are not read"),
                    line,
                    source(line));
            return;
        }
        // What Groovy puts in is known or open; what is left for the shell is read by its rules.
        new Commands(here.within(here.scope().inner())).script(shellText(script, here.scope()), script.getLineNumber());
    }

    /** A text with Groovy's variables put in: where one is open, it becomes a variable of the shell, which is as open. */
    private static String shellText(Expression script, Scope scope) {
        if (script instanceof GStringExpression mixed) {
            StringBuilder text = new StringBuilder();
            List<ConstantExpression> texts = mixed.getStrings();
            for (int i = 0; i < texts.size(); i++) {
                text.append(texts.get(i).getValue());
                if (i < mixed.getValues().size()) {
                    PipelineValue value = term(mixed.getValues().get(i), scope);
                    text.append(
                            value.isKnown()
                                    ? value.text()
                                    : "${" + value.open().get(0).replaceAll("[^A-Za-z0-9_]", "_") + "}");
                }
            }
            return text.toString();
        }
        return term(script, scope).text();
    }

    private static PipelineValue term(Expression expression, Scope scope) {
        if (expression instanceof ConstantExpression constant) {
            return PipelineValue.of(String.valueOf(constant.getValue()));
        }
        if (expression instanceof GStringExpression mixed) {
            PipelineValueBuilder whole = new PipelineValueBuilder();
            List<ConstantExpression> texts = mixed.getStrings();
            for (int i = 0; i < texts.size(); i++) {
                whole.add(String.valueOf(texts.get(i).getValue()));
                if (i < mixed.getValues().size()) {
                    whole.add(term(mixed.getValues().get(i), scope));
                }
            }
            return whole.term();
        }
        String name = expression instanceof VariableExpression variable
                ? variable.getName()
                : expression instanceof PropertyExpression property ? property.getPropertyAsString() : null;
        return name == null
                ? scope.unset("$" + expression.getText(), expression.getText())
                : scope.variable(name).orElseGet(() -> scope.unset("$" + name, name));
    }

    private void withVariables(Arguments arguments, JobContext here) {
        Scope own = here.scope().inner();
        for (Expression list : arguments.positional()) {
            if (list instanceof ListExpression items) {
                for (Expression item : items.getExpressions()) {
                    PipelineValue pair = term(item, here.scope());
                    int equals = pair.text().indexOf('=');
                    if (equals > 0) {
                        own.set(
                                pair.text().substring(0, equals),
                                new PipelineValue(pair.text().substring(equals + 1), pair.open()));
                    }
                }
            }
        }
        arguments.closure().ifPresent(block -> statement(block.getCode(), here.within(own)));
    }

    private String source(int line) {
        List<String> lines = text.lines();
        return line >= 1 && line <= lines.size() ? lines.get(line - 1).strip() : "";
    }
}
