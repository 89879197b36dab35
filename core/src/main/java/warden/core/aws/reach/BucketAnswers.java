package warden.core.aws.reach;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.access.Decision;
import warden.core.access.Questions;
import warden.core.access.Truth;
import warden.core.aws.decision.Evaluator;
import warden.core.aws.decision.Request;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.storage.Bucket;
import warden.core.document.DisplayText;

/** Decides questions about the first provider's accounts. Safe for use by several threads. */
public final class BucketAnswers implements Questions.Answers {
    private final List<Evaluator> evaluators;
    private final boolean explains;

    /**
     * Makes ready to answer.
     *
     * @param evaluators one for each surveyed account, at least one; the account that owns the resource decides
     * @param explains whether answers carry the steps of the reasoning
     */
    public BucketAnswers(List<Evaluator> evaluators, boolean explains) {
        this.evaluators = List.copyOf(evaluators);
        this.explains = explains;
    }

    @Override
    public Decision to(Questions.Question question) throws Questions.UnusableQuestionException {
        Request request = request(question);
        return evaluatorFor(request).answer(request, explains);
    }

    private static Request request(Questions.Question question) throws Questions.UnusableQuestionException {
        String who = question.who();
        String action = question.action();
        String on = question.on();
        Optional<Actor> actor = Actor.parse(who);
        if (actor.isEmpty()) {
            throw new Questions.UnusableQuestionException(
                    who.isEmpty()
                            ? "\"who\" is missing"
                            : "\"who\" names nobody that can ask: " + DisplayText.name(who));
        }
        if (action.indexOf(':') <= 0 || action.indexOf('*') >= 0 || action.endsWith(":")) {
            throw new Questions.UnusableQuestionException(
                    action.isEmpty()
                            ? "\"action\" is missing"
                            : "\"action\" is no single action: " + DisplayText.name(action));
        }
        if (!on.equals("*") && Arn.parse(on).isEmpty()) {
            throw new Questions.UnusableQuestionException(
                    on.isEmpty() ? "\"on\" is missing" : "\"on\" is no ARN: " + DisplayText.name(on));
        }
        Map<String, ContextValue> context = new HashMap<>();
        question.context()
                .forEach((key, values) -> context.put(
                        key, values.<ContextValue>map(ContextValue.Known::new).orElse(ContextValue.UNKNOWN)));
        return new Request(actor.get(), action, on, Context.given(context));
    }

    private Evaluator evaluatorFor(Request request) {
        if (evaluators.size() == 1) {
            return evaluators.get(0);
        }
        Optional<String> bucket = Bucket.nameIn(request.resource());
        String home = bucket.isPresent()
                ? ""
                : Arn.parse(request.resource()).map(Arn::account).orElse("");
        String caller = request.who().home().orElse("");
        return evaluators.stream()
                .filter(each -> bucket.isPresent()
                        ? each.account().ownsBucket(bucket.get()) == Truth.TRUE
                        : each.account().number().equals(home))
                .findFirst()
                .or(() -> evaluators.stream()
                        .filter(each -> each.account().number().equals(caller))
                        .findFirst())
                .orElse(evaluators.get(0));
    }
}
