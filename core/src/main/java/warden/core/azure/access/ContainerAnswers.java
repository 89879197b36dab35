package warden.core.azure.access;

import java.util.List;
import java.util.Optional;
import warden.core.access.Decision;
import warden.core.access.Questions;
import warden.core.azure.account.ResourceId;
import warden.core.document.DisplayText;

/** Decides questions about the second provider's subscriptions. Safe for use by several threads. */
public final class ContainerAnswers implements Questions.Answers {
    private final List<Reach> reaches;
    private final boolean explains;

    /**
     * Makes ready to answer.
     *
     * @param reaches one for each surveyed subscription, at least one; the one that holds the resource decides
     * @param explains whether answers carry the steps of the reasoning
     */
    public ContainerAnswers(List<Reach> reaches, boolean explains) {
        this.reaches = List.copyOf(reaches);
        this.explains = explains;
    }

    @Override
    public Decision to(Questions.Question question) throws Questions.UnusableQuestionException {
        String on = question.on();
        if (on.isEmpty() || !on.startsWith("/")) {
            throw new Questions.UnusableQuestionException(
                    on.isEmpty()
                            ? "\"on\" is missing"
                            : "\"on\" is no identifier of a resource: " + DisplayText.name(on));
        }
        Reach reach =
                reaches.stream().filter(each -> each.holds(on)).findFirst().orElse(reaches.get(0));
        String who = question.who();
        Optional<Caller> caller = who.isEmpty() ? Optional.empty() : reach.caller(who);
        if (caller.isEmpty()) {
            throw new Questions.UnusableQuestionException(
                    who.isEmpty()
                            ? "\"who\" is missing"
                            : "\"who\" names nobody that can ask: " + DisplayText.name(who));
        }
        String action = question.action();
        boolean isListing = action.equalsIgnoreCase("list");
        if (!isListing && (action.indexOf('/') <= 0 || action.indexOf('*') >= 0)) {
            throw new Questions.UnusableQuestionException(
                    action.isEmpty()
                            ? "\"action\" is missing"
                            : "\"action\" is no single action: " + DisplayText.name(action));
        }
        boolean onContainer = ResourceId.blobIn(on).isEmpty();
        boolean lists = isListing || (action.equalsIgnoreCase(Actions.READ) && onContainer);
        return reach.rules()
                .decide(caller.get(), isListing ? Actions.READ : action, on, context(question, lists), explains);
    }

    private static RequestContext context(Questions.Question question, boolean lists)
            throws Questions.UnusableQuestionException {
        Optional<String> endpoint = value(question, "endpoint");
        if (endpoint.filter(each -> !each.equals("web") && !each.equals("blob")).isPresent()) {
            throw new Questions.UnusableQuestionException("\"endpoint\" is web or blob");
        }
        Optional<String> plane = value(question, "plane");
        if (plane.filter(each -> !each.equals("data") && !each.equals("control"))
                .isPresent()) {
            throw new Questions.UnusableQuestionException("\"plane\" is data or control");
        }
        boolean secure = value(question, "secureTransport")
                .map(each -> !each.equals("false"))
                .orElse(true);
        return new RequestContext(endpoint, secure, value(question, "sourceIp"), lists, plane.map("data"::equals));
    }

    private static Optional<String> value(Questions.Question question, String name) {
        return question.context().getOrDefault(name, Optional.empty()).flatMap(values -> values.stream()
                .findFirst());
    }
}
