//! What a test sees of a page, and how it waits for it.

use std::time::Duration;

use fantoccini::elements::{Element, ElementRef};
use fantoccini::error::CmdError;
use serde_json::{Value, json};
use tokio::time::{Instant, interval};

use super::Browser;

/// How long a test waits for something to appear. Tests run on busy machines,
/// and only what never comes costs this much.
pub(super) const PATIENCE: Duration = Duration::from_secs(180);
/// Interval at which a page is asked again that went away while it was asked.
pub(super) const LOOK: Duration = Duration::from_millis(100);
/// Interval at which a page looks at itself, ms.
const LOOK_MS: u32 = 50;
/// How long one question to a page may take, ms: well within the 30 s that the driver gives a script.
const QUESTION_MS: u32 = 5000;

/// The text of an element as it is read: cells of a row stand a space apart, and so do figures and their
/// units, whichever of the spaces keeps them on one line.
const TEXT: &str = r"
    const read = (raw) => raw.replace(/[\t\u00a0\u202f]+/g, ' ').replace(/\s*\n\s*/g, '\n').trim();
    const seen = document.querySelector(css);
    const text = read(seen?.innerText ?? seen?.textContent ?? '');";

impl Browser {
    /// Waits for what the page sees of an element. `look` is the body of a function of `css` and `words`
    /// that returns whether it is there, and what is seen.
    ///
    /// The page itself looks again and again: asked for each look from outside, driver, browser and page
    /// spend many times as much on the questions as on the answer.
    ///
    /// # Errors
    /// What was seen last, where it is not there within the patience of a test.
    pub(super) async fn look(&self, look: &str, css: &str, words: &str) -> Result<Value, String> {
        let script = format!(
            "const [css, words, done] = arguments, given_up = performance.now() + {QUESTION_MS};
             const look = () => {{ {look} }};
             (function again() {{
               const [isThere, seen] = look();
               if (isThere || performance.now() > given_up) done([isThere, seen]);
               else setTimeout(again, {LOOK_MS});
             }})();"
        );
        let mut last = String::new();
        let deadline = Instant::now() + PATIENCE;
        let mut looks = interval(LOOK);
        while Instant::now() < deadline {
            looks.tick().await;
            match self.client.execute_async(&script, vec![json!(css), json!(words)]).await {
                Ok(answer) if answer[0] == true => return Ok(answer[1].clone()),
                Ok(answer) => last = answer[1].as_str().unwrap_or_default().to_owned(),
                // A page that goes away takes the question with it.
                Err(error @ CmdError::Standard(_)) => last = error.to_string(),
                Err(error) => return Err(error.to_string()),
            }
        }
        Err(last)
    }

    /// Waits for an element.
    ///
    /// # Panics
    /// Where it never comes; so do all methods here.
    pub async fn find(&self, css: &str) -> Element {
        const FIND: &str =
            "const seen = document.querySelector(css); return [seen !== null, seen];";
        let found = match self.look(FIND, css, "").await {
            Ok(found) => found,
            Err(error) => panic!("{css} never came: {error}; shown is {}", self.shown().await),
        };
        let id = found.as_object().and_then(|reference| reference.values().next());
        let id = id.and_then(Value::as_str).expect("an element").to_owned();
        Element::from_element_id(self.client.clone(), ElementRef::from(id))
    }

    /// Address and text of what is shown, for the message of a failed test.
    pub(super) async fn shown(&self) -> String {
        const MOST: usize = 600;
        let said = self.run("return location.href + ': ' + document.body.innerText").await;
        said.as_str().unwrap_or_default().chars().take(MOST).collect()
    }

    /// The text of an element.
    pub async fn text(&self, css: &str) -> String {
        self.read(&format!("{TEXT} return [seen !== null, text];"), css).await
    }

    /// The text of a field.
    pub async fn value(&self, css: &str) -> String {
        const VALUE: &str =
            "const field = document.querySelector(css); return [field !== null, field?.value];";
        self.read(VALUE, css).await
    }

    async fn read(&self, look: &str, css: &str) -> String {
        match self.look(look, css, "").await {
            Ok(text) => text.as_str().expect("a text").to_owned(),
            Err(error) => panic!("{css} never came: {error}; shown is {}", self.shown().await),
        }
    }

    /// Waits until the text of an element contains `expected`.
    pub async fn wait_for_text(&self, css: &str, expected: &str) {
        let look = format!("{TEXT} return [seen !== null && text.includes(read(words)), text];");
        if let Err(last) = self.look(&look, css, expected).await {
            panic!("{css} never said “{expected}”; it says “{last}”");
        }
    }

    /// Waits until no element matches.
    pub async fn wait_for_gone(&self, css: &str) {
        const GONE: &str = "return [document.querySelector(css) === null, null];";
        let gone = self.look(GONE, css, "").await;
        assert!(gone.is_ok(), "{css} is still there");
    }
}
