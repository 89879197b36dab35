package warden.standin.aws;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import warden.core.rehearse.RehearsedCall;
import warden.core.survey.Citation;

/** What one call turned out to need, in the order in which it was asked for. */
final class CallNeeds {
    private final List<RehearsedCall.Need> asked = new ArrayList<>();
    private String operation = "";

    /** Names the operation; the first name stays, since a call that leads to others is still the one that was made. */
    void operation(String name) {
        if (operation.isEmpty()) {
            operation = name;
        }
    }

    String operation() {
        return operation;
    }

    void add(
            String action,
            String resource,
            Map<String, List<String>> context,
            boolean allowed,
            String says,
            List<Citation> because) {
        RehearsedCall.Need need = new RehearsedCall.Need(action, resource, context, allowed, says, because);
        if (!asked.contains(need)) {
            asked.add(need);
        }
    }

    List<RehearsedCall.Need> asked() {
        return List.copyOf(asked);
    }
}
