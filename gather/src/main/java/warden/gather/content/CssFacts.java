package warden.gather.content;

import com.helger.css.CSSSourceLocation;
import com.helger.css.decl.CSSDeclaration;
import com.helger.css.decl.CSSExpressionMemberTermURI;
import com.helger.css.decl.CSSImportRule;
import com.helger.css.decl.CascadingStyleSheet;
import com.helger.css.decl.ICSSTopLevelRule;
import com.helger.css.decl.visit.CSSVisitor;
import com.helger.css.decl.visit.DefaultCSSUrlVisitor;
import com.helger.css.handler.DoNothingCSSParseExceptionCallback;
import com.helger.css.reader.CSSReader;
import com.helger.css.reader.CSSReaderSettings;
import com.helger.css.reader.errorhandler.DoNothingCSSInterpretErrorHandler;
import com.helger.css.reader.errorhandler.DoNothingCSSParseErrorHandler;

/** Finds what a style sheet refers to. Source: CSS Values and Units Module, "Resource Locators". */
final class CssFacts {
    private CssFacts() {}

    /**
     * Collects references.
     *
     * @param firstLine the line of the file in which the text begins, counted from 1
     */
    static void collect(String text, Facts facts, int firstLine, String base) {
        // Most sheets name no address, and parsing takes far longer than looking.
        if (!text.contains("url(") && !text.contains("@import") && !text.contains("URL(")) {
            return;
        }
        CSSReaderSettings settings = new CSSReaderSettings()
                .setKeepDeprecatedProperties(true)
                .setUseSourceLocation(true)
                .setBrowserCompliantMode(true)
                .setCustomErrorHandler(new DoNothingCSSParseErrorHandler())
                .setCustomExceptionHandler(new DoNothingCSSParseExceptionCallback())
                .setInterpretErrorHandler(new DoNothingCSSInterpretErrorHandler());
        CascadingStyleSheet sheet = CSSReader.readFromStringReader(text, settings);
        if (sheet == null) {
            return;
        }
        CSSVisitor.visitCSSUrl(sheet, new DefaultCSSUrlVisitor() {
            @Override
            public void onImport(CSSImportRule rule) {
                facts.reference(rule.getLocationString(), line(rule.getSourceLocation()), true, base);
            }

            @Override
            public void onUrlDeclaration(
                    ICSSTopLevelRule rule, CSSDeclaration declaration, CSSExpressionMemberTermURI address) {
                facts.reference(address.getURIString(), line(address.getSourceLocation()), true, base);
            }

            private int line(CSSSourceLocation at) {
                int line = at == null || !at.hasFirstTokenArea() ? 1 : at.getFirstTokenBeginLineNumber();
                return firstLine + Math.max(1, line) - 1;
            }
        });
    }
}
