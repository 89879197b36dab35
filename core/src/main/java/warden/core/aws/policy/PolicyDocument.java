package warden.core.aws.policy;

import java.util.List;

/**
 * A policy document: its statements, and the reasons why the provider would refuse it, if any.
 *
 * @param isOpaque true when not even its statements could be made out: it may allow or deny anything
 * @param size the length of its text in characters as it was read, white space included
 */
public record PolicyDocument(
        PolicyKind kind,
        String version,
        boolean isOpaque,
        List<Statement> statements,
        List<PolicyProblem> problems,
        int size) {
    public PolicyDocument {
        statements = List.copyOf(statements);
        problems = List.copyOf(problems);
    }

    /** True when some part of the document has no known meaning. */
    public boolean isPartlyOpaque() {
        return isOpaque || statements.stream().anyMatch(Statement::isOpaque);
    }
}
