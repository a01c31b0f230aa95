//! Lists, however long, and with rows that cannot be read.

use fondant_app::casts::list::{PAGE, list};
use fondant_app::records::{Asked, CastId};
use fondant_app::shelf;
use fondant_materials::resin::shelf::Lot;
use fondant_testkit::documents;

use crate::{app, damage, taken};

/// "Casts reads all casts by one tuple list: 503 at 10 000 casts."
#[tokio::test]
async fn ten_thousand_casts_are_listed_page_by_page() {
    let app = app().await;
    app.cast("The first").await;
    let copies = "insert into \"cast\" (workshop_id, name, revision, created_at, updated_at) \
         select workshop_id, 'Cast ' || n, 1, created_at, updated_at + n * interval '1 s' \
         from \"cast\", generate_series(1, 9999) n; \
         insert into cast_revision (cast_id, number, schema_version, plan, created_at) \
         select c.id, 1, r.schema_version, r.plan, r.created_at \
         from \"cast\" c, cast_revision r where c.id <> r.cast_id";
    damage(&app, copies).await;
    let shop = app.shop().await;
    let first = list(&app.app, &shop, &Asked::default()).await.unwrap();
    let named: Vec<&str> = first.casts.iter().map(|cast| cast.name.as_str()).collect();
    assert_eq!(named.len() as u64, PAGE);
    assert_eq!((named[0], named[59]), ("Cast 9999", "Cast 9940"));
    assert!(first.next.is_some());

    // From page to page none is left out, none comes twice.
    damage(&app, "delete from \"cast\" where id > 400").await;
    let mut seen = std::collections::HashSet::new();
    let mut listed = 0;
    let mut next = None;
    loop {
        let page = list(&app.app, &shop, &Asked { after: next, ..Asked::default() }).await.unwrap();
        assert!(page.casts.len() as u64 <= PAGE && !page.casts.is_empty());
        listed += page.casts.len();
        seen.extend(page.casts.iter().map(|cast| cast.id.0));
        next = page.next;
        if next.is_none() {
            break;
        }
    }
    assert_eq!((listed, seen.len()), (400, 400));
}

/// "One unreadable JSON row fails the whole Casts or Today page."
#[tokio::test]
async fn what_cannot_be_read_is_counted_and_takes_nothing_else_down() {
    let app = app().await;
    let (broken, _) = taken(&app).await;
    let (whole, _) = taken(&app).await;
    let nonsense = format!(
        "update cast_revision set plan = '{{\"schema\": 3, \"name\": 7}}' where cast_id = {broken}; \
         update agenda set document = '[]' where cast_id = {broken}; \
         insert into shelf_item (workshop_id, kind, slug, revision, document, updated_at) \
         values ({}, 'lot', 'odd', 1, '\"?\"', now())",
        app.workshop.0
    );
    damage(&app, &nonsense).await;
    let shop = app.shop().await;
    let listed = list(&app.app, &shop, &Asked::default()).await.unwrap().casts;
    let read = |id: CastId| listed.iter().find(|cast| cast.id == id).unwrap().document.is_some();
    assert!(!read(broken) && read(whole));
    let agendas = app.app.agendas(&shop, documents::now()).await.unwrap();
    assert_eq!(agendas.iter().map(|agenda| agenda.cast).collect::<Vec<_>>(), [whole]);
    let lots = shelf::items::<Lot>(&app.app, &shop).await.unwrap();
    assert_eq!((lots.items.len(), lots.unreadable.len()), (0, 1));
}
