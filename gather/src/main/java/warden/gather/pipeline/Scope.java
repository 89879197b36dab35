package warden.gather.pipeline;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.PipelineValue;

/** The variables that a file sets, and what its expressions stand for. An inner scope sees the outer one and does not change it. */
public final class Scope {
    private static final Pattern EXPRESSION = Pattern.compile("\\$\\{\\{(.*?)}}", Pattern.DOTALL);

    private final Map<String, PipelineValue> variables;
    private final Set<String> functions;
    private final Function<String, Optional<PipelineValue>> expressions;
    private final PipelineVariables told;

    private Scope(
            Map<String, PipelineValue> variables,
            Set<String> functions,
            Function<String, Optional<PipelineValue>> expressions,
            PipelineVariables told) {
        this.variables = variables;
        this.functions = functions;
        this.expressions = expressions;
        this.told = told;
    }

    /** Returns a scope without variables, in which only {@code env.NAME} is understood as an expression. */
    public static Scope empty() {
        return of(PipelineVariables.none());
    }

    /** Returns such a scope in which what nothing sets stands for what the user tells. */
    public static Scope of(PipelineVariables told) {
        return new Scope(new HashMap<>(), new HashSet<>(), expression -> Optional.empty(), told);
    }

    /** Returns a scope of its own that begins with what is set here. */
    public Scope inner() {
        return new Scope(new HashMap<>(variables), new HashSet<>(functions), expressions, told);
    }

    /** Returns this scope with more expressions understood; a name without blanks, such as {@code matrix.target}. */
    Scope understanding(Function<String, Optional<PipelineValue>> more) {
        return new Scope(
                variables,
                functions,
                expression -> more.apply(expression).or(() -> expressions.apply(expression)),
                told);
    }

    /** Sets a variable here and in no outer scope. */
    public void set(String name, PipelineValue value) {
        variables.put(name, value);
    }

    /** Returns what a variable was set to; absent when the file does not set it. */
    public Optional<PipelineValue> variable(String name) {
        return Optional.ofNullable(variables.get(name));
    }

    /** Returns what a variable stands for that the file does not set: what the user tells, or the variable itself. */
    public PipelineValue unset(String spelled, String name) {
        return told.valueOf(spelled, name);
    }

    void define(String function) {
        functions.add(function);
    }

    boolean isFunction(String name) {
        return functions.contains(name);
    }

    /** Returns what an expression of the host, such as {@code secrets.BUCKET}, stands for. */
    PipelineValue expression(String inside) {
        String name = inside.strip();
        String spelled = "${{ " + name + " }}";
        if (name.startsWith("env.")) {
            return variable(name.substring(4)).orElseGet(() -> unset(spelled, name));
        }
        if (name.matches("'[^']*'")) {
            return PipelineValue.of(name.substring(1, name.length() - 1));
        }
        return expressions.apply(name).orElseGet(() -> unset(spelled, name));
    }

    /** Puts in what the host's expressions in a text stand for. */
    public PipelineValue expand(String text) {
        Matcher matcher = EXPRESSION.matcher(text);
        PipelineValueBuilder whole = new PipelineValueBuilder();
        int from = 0;
        while (matcher.find()) {
            whole.add(text.substring(from, matcher.start()));
            whole.add(expression(matcher.group(1)));
            from = matcher.end();
        }
        whole.add(text.substring(from));
        return whole.term();
    }
}
