package warden.core.aws.reach;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.SurveyBuilder.aSurvey;
import static warden.core.fixture.SurveyBuilder.json;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.access.Questions;
import warden.core.aws.decision.Evaluator;

class QuestionsTest {
    private static final String OFFICE =
            "{'Effect':'Allow','Principal':'*','Action':'s3:GetObject','Resource':'arn:aws:s3:::b/*',"
                    + "'Condition':{'IpAddress':{'aws:SourceIp':'203.0.113.0/24'}}}";
    private final Questions questions = new Questions(new BucketAnswers(
            List.of(new Evaluator(aSurvey().bucket("b", b -> b.policy(OFFICE)).account())), false));

    private String ask(String rest) {
        return questions.answer(
                json("{'id':'q','who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b/x'" + rest + "}"));
    }

    @Test
    void answersInTheWordsOfTheContract() {
        assertThat(ask(",'context':{'aws:SourceIp':'203.0.113.9'}"))
                .isEqualTo(
                        json(
                                "{'id':'q','decision':'allow','explicit':true,'says':'Allowed: the bucket policy allows it.',"
                                        + "'because':[{'file':'test.ndjson','line':8,'aspect':'bucket-policy','path':'/Statement/0'}]}"));
        assertThat(ask("")).contains(json("'decision':'deny','explicit':false"));
    }

    @Test
    void takesListsAndKeysOfUnknownValue() {
        assertThat(ask(",'context':{'aws:SourceIp':['203.0.113.9']}")).contains(json("'decision':'allow'"));
        assertThat(ask(",'unknownContext':['AWS:sourceip']"))
                .contains(json("'decision':'unknown'"), json("'needs':[{'aspect':'bucket-policy'"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "nonsense | null",
                "[] | null",
                "{'id':7} | 7",
                "{'id':true,'who':'anyone'} | true",
                "{'id':'a','who':'nobody','action':'s3:GetObject','on':'arn:aws:s3:::b'} | 'a'",
                "{'id':'a','who':'anyone','action':'GetObject','on':'arn:aws:s3:::b'} | 'a'",
                "{'id':'a','who':'anyone','action':'s3:Get*','on':'arn:aws:s3:::b'} | 'a'",
                "{'id':'a','who':'anyone','action':'s3:GetObject','on':'b'} | 'a'",
                "{'id':'a','who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b','context':[]} | 'a'",
                "{'id':'a','who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b','context':{'k':{}}} | 'a'",
                "{'id':'a','who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b','unknownContext':'k'} | 'a'",
                "{'id':'a','who':7} | 'a'",
                "{'id':'a'}{} | 'a'"
            })
    void answersAMalformedQuestionWithAnError(String line, String id) {
        assertThat(questions.answer(json(line)))
                .startsWith(json("{'id':" + id + ",'error':'"))
                .doesNotContain("decision");
    }

    @Test
    void showsItsStepsWhenAsked() {
        Questions explaining = new Questions(
                new BucketAnswers(List.of(new Evaluator(aSurvey().bucket("b").account())), true));
        assertThat(explaining.answer(json("{'who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b/x'}")))
                .contains(json("'steps':['The bucket has no policy.'"));
    }

    @Test
    void asksTheAccountThatOwnsTheBucket() {
        Evaluator first = new Evaluator(aSurvey().bucket("a").account());
        Evaluator second =
                new Evaluator(aSurvey().bucket("b", b -> b.policy(OFFICE)).account());
        String question = json(
                "{'who':'anyone','action':'s3:GetObject','on':'arn:aws:s3:::b/x','context':{'aws:SourceIp':'203.0.113.1'}}");
        assertThat(new Questions(new BucketAnswers(List.of(first, second), false)).answer(question))
                .contains("\"allow\"");
    }

    @Test
    void saysWhatIsWrongWithAQuestion() {
        String rest = ",'action':'s3:GetObject','on':'arn:aws:s3:::b/x'}";
        assertThat(questions.answer(json("{'id':1" + rest))).contains("\\\"who\\\" is missing");
        assertThat(questions.answer(json("{'id':1,'who':'nobody'" + rest)))
                .contains("names nobody that can ask: nobody");
        String who = "{'id':1,'who':'anyone'";
        assertThat(questions.answer(json(who + ",'on':'*'}"))).contains("\\\"action\\\" is missing");
        for (String action : List.of("GetObject", ":x", "s3:", "s3:Get*")) {
            assertThat(questions.answer(json(who + ",'action':'" + action + "','on':'*'}")))
                    .contains("is no single action: " + action);
        }
        assertThat(questions.answer(json(who + ",'action':'s3:GetObject'}"))).contains("\\\"on\\\" is missing");
        assertThat(questions.answer(json(who + ",'action':'s3:GetObject','on':'b'}")))
                .contains("is no ARN: b");
        assertThat(questions.answer(json(who + ",'action':'s3:ListAllMyBuckets','on':'*'}")))
                .contains("decision");
    }
}
