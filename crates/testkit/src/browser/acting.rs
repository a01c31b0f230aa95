//! What a test does with a page: keys and the mouse.

use fantoccini::actions::{InputSource, KeyAction, KeyActions};
use fantoccini::error::{CmdError, ErrorStatus};
use serde_json::json;
use tokio::time::{Instant, interval};

use super::Browser;
use super::looking::{LOOK, PATIENCE};

/// How often a mouse follows what a page moves.
const MOST_MOVES: usize = 50;

/// The middle of what is seen of an element, once it is scrolled to and nothing lies over it.
const REACH: &str = "
    const aim = document.querySelector(css);
    if (aim === null) return [false, 'it is not there'];
    aim.scrollIntoViewIfNeeded();
    const box = [...aim.getClientRects()].find((box) => box.width > 0 && box.height > 0);
    if (box === undefined) return [false, 'it is not to be seen'];
    const middle = (from, to, end) => (Math.max(from, 0) + Math.min(to, end)) / 2;
    const at = [middle(box.left, box.right, innerWidth), middle(box.top, box.bottom, innerHeight)];
    const hit = document.elementFromPoint(...at);
    return aim.contains(hit) ? [true, at] : [false, `over it lies ${hit?.outerHTML.slice(0, 200)}`];";

/// The middle of an element, wherever it is and whatever lies over it.
const MIDDLE: &str = "
    const aim = document.querySelector(css)?.getBoundingClientRect();
    return [aim !== undefined, aim && [aim.x + aim.width / 2, aim.y + aim.height / 2]];";

/// Whether an element is not there any more, or not to be seen.
fn is_replaced(error: &CmdError) -> bool {
    let CmdError::Standard(standard) = error else { return false };
    matches!(
        standard.error,
        ErrorStatus::StaleElementReference | ErrorStatus::ElementNotInteractable
    )
}

impl Browser {
    /// Replaces the text of a field and leaves it, which sends the form.
    pub async fn enter(&self, css: &str, text: &str) {
        // Clearing a field would send the empty form; typing over it does not.
        const CONTROL: char = '\u{E009}';
        const RELEASE: char = '\u{E000}';
        let typed = format!("{CONTROL}a{RELEASE}{text}");
        self.type_into(css, &typed).await;
        self.client
            .execute("document.activeElement.blur()", vec![])
            .await
            .expect("the field is left");
    }

    /// Clicks an element, as soon as a hand would reach it.
    ///
    /// # Panics
    /// Where it is never to be reached, or the browser refuses; so do all methods here.
    pub async fn click(&self, css: &str) {
        let at = self.follow(REACH, css).await;
        self.mouse("mousePressed", at, (1, 1)).await;
        self.mouse("mouseReleased", at, (0, 1)).await;
    }

    /// Types into an element. One that the page replaces between the look and the act is looked for
    /// again, as a hand would.
    async fn type_into(&self, css: &str, text: &str) {
        let given_up = Instant::now() + PATIENCE;
        let mut looks = interval(LOOK);
        loop {
            looks.tick().await;
            match self.find(css).await.send_keys(text).await {
                Ok(()) => return,
                Err(error) if is_replaced(&error) && Instant::now() < given_up => {}
                Err(error) => panic!("{css}: {error}; shown is {}", self.shown().await),
            }
        }
    }

    /// Types into whatever has the focus when a key comes down: an element that is exchanged
    /// meanwhile is no matter. A modifier is held until it is typed again.
    pub async fn type_here(&self, text: &str) {
        const MODIFIERS: [char; 3] = ['\u{E008}', '\u{E009}', '\u{E00A}'];
        let mut keys = KeyActions::new("keyboard".into());
        let mut held: Vec<char> = Vec::new();
        for value in text.chars() {
            if let Some(place) = held.iter().position(|key| *key == value) {
                keys = keys.then(KeyAction::Up { value: held.remove(place) });
            } else if MODIFIERS.contains(&value) {
                held.push(value);
                keys = keys.then(KeyAction::Down { value });
            } else {
                keys = keys.then(KeyAction::Down { value }).then(KeyAction::Up { value });
            }
        }
        for value in held {
            keys = keys.then(KeyAction::Up { value });
        }
        self.client.perform_actions(keys).await.expect("the keys are taken");
    }

    /// Presses a key on the page.
    pub async fn press(&self, key: &str) {
        self.find("body").await.send_keys(key).await.expect("the key is taken");
    }

    /// Presses the mouse on the middle of an element, moves it in steps by `by`
    /// pixels, and lets go.
    pub async fn drag(&self, css: &str, by: (f64, f64)) {
        let at = self.lift(css, by).await;
        self.let_go(at).await;
    }

    /// The middle of an element in the window, px.
    pub async fn middle_of(&self, css: &str) -> (f64, f64) {
        self.place(MIDDLE, css).await
    }

    /// A place in the window that a script finds, px.
    async fn place(&self, look: &str, css: &str) -> (f64, f64) {
        match self.look(look, css, "").await {
            Ok(at) => (at[0].as_f64().expect("a place"), at[1].as_f64().expect("a place")),
            Err(last) => panic!("{css} is not reached: {last}; shown is {}", self.shown().await),
        }
    }

    /// Moves the mouse to the middle of an element, which is scrolled to, and after it where the page
    /// moved it meanwhile; the answer is where that is.
    pub async fn point_at(&self, css: &str) -> (f64, f64) {
        let scroll = "scrollIntoView({ block: 'center', behavior: 'instant' })";
        self.run(&format!("document.querySelector(`{css}`).{scroll}")).await;
        self.follow(MIDDLE, css).await
    }

    /// Moves the mouse to a place, and after it where the page moves it meanwhile; the answer is where
    /// it stands still.
    async fn follow(&self, look: &str, css: &str) -> (f64, f64) {
        let mut at = self.place(look, css).await;
        for _ in 0..MOST_MOVES {
            self.mouse("mouseMoved", at, (0, 0)).await;
            let now = self.place(look, css).await;
            if (now.0 - at.0).abs() < 1.0 && (now.1 - at.1).abs() < 1.0 {
                return at;
            }
            at = now;
        }
        panic!("{css} does not stand still");
    }

    /// Presses the mouse on the middle of an element and moves it in steps by `by` pixels; the
    /// answer is where it is held.
    pub async fn lift(&self, css: &str, by: (f64, f64)) -> (f64, f64) {
        let (x, y) = self.point_at(css).await;
        self.mouse("mousePressed", (x, y), (1, 1)).await;
        for step in 1..=8 {
            let share = f64::from(step) / 8.0;
            self.mouse("mouseMoved", (x + by.0 * share, y + by.1 * share), (1, 1)).await;
        }
        (x + by.0, y + by.1)
    }

    /// Lets the mouse go where it is held.
    pub async fn let_go(&self, (x, y): (f64, f64)) {
        self.mouse("mouseReleased", (x, y), (0, 1)).await;
    }

    /// The second half of a double click, where the first was let go.
    pub async fn click_again(&self, (x, y): (f64, f64)) {
        self.mouse("mousePressed", (x, y), (1, 2)).await;
        self.mouse("mouseReleased", (x, y), (0, 2)).await;
    }

    async fn mouse(&self, kind: &str, (x, y): (f64, f64), (buttons, clicks): (u32, u32)) {
        let parameters = json!({
            "type": kind, "x": x, "y": y, "button": "left", "buttons": buttons, "clickCount": clicks
        });
        let command = json!({ "cmd": "Input.dispatchMouseEvent", "params": parameters });
        self.raw("goog/cdp/execute", command).await;
    }

    /// Chooses a file in a file field.
    pub async fn choose_file(&self, css: &str, path: &std::path::Path) {
        let path = path.to_str().expect("a path in UTF-8");
        self.find(css).await.send_keys(path).await.expect("the file is taken");
    }
}
