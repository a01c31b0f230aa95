use fondant_app::{AppError, Request, casts};
use fondant_testkit::{TestApp, documents};

#[tokio::test]
async fn a_cast_is_created_and_worked_out() -> Result<(), AppError> {
    let test = TestApp::new(&documents::workshop(8, 18)).await;
    let shop = test.app.shop().await?;
    let river = documents::river_top("Counter");
    let id = casts::create(&test.app, &shop, &river, &Request::default()).await?;
    // What the document says, worked out: here the resin that it takes.
    let worked = casts::open(&test.app, id).await?.worked(&test.app).await?;
    assert!(worked.evaluation.total().l() > 1.0);
    Ok(())
}
